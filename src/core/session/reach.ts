/** One thing that has to hold for guests elsewhere to come in. */
export interface ReachFinding {
  what: 'address' | 'name' | 'answers' | 'certificate' | 'relay';
  state: 'good' | 'wrong' | 'unknown';
  words: string;
}

/** How the product is reached, as far as its server can tell, and the helpers browsers are given. */
export interface Reach {
  findings: ReachFinding[];
  iceServers: { urls: string[]; username?: string; credential?: string }[];
}
