/** How the made-up outside program behaves. */
export interface FarEndManner {
  people: number;
  sendsBack: boolean;
  loudspeakers: boolean;
  rate: 48000 | 44100;
  ppm: number;
}

export const GOOD_MANNERS: FarEndManner = Object.freeze({ people: 1, sendsBack: false, loudspeakers: false, rate: 48000, ppm: 0 });
