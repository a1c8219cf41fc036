export interface NoiseTimed {
  /** How many voices this machine suppresses noise for in time. */
  mostVoices: number;
}
