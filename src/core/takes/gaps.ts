/** Why a stretch of a track holds silence. */
export const GAP_CAUSES = ['ring-overrun', 'not-received', 'not-in-call', 'line-lost', 'not-at-home', 'desk-away', 'device-away', 'device-late'] as const;
export type GapCause = (typeof GAP_CAUSES)[number];

/** Whether sound is missing that somebody meant to record: who came late, or has the line beside it, lost nothing. */
export const isFault = (cause: GapCause): boolean => cause !== 'not-in-call' && cause !== 'not-at-home';

/** As a host reads it, after the length: `0:12 of silence: not in the call yet`. */
export const GAP_WORDS: Record<GapCause, string> = Object.freeze({
  'ring-overrun': 'this machine was too busy to record',
  'not-received': 'the sound did not reach the server',
  'not-in-call': 'not in the call',
  'line-lost': 'the connection was lost',
  'not-at-home': 'nothing was recorded at home',
  'desk-away': 'the desk was closed',
  'device-away': 'its device was gone',
  'device-late': 'its device did not deliver in time',
});
