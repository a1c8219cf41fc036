/** How a pad plays: to its end, round and round, or for as long as it is held. */
export const PAD_MODES = ['once', 'loop', 'hold'] as const;
export type PadMode = (typeof PAD_MODES)[number];

/** What a press does while the sound is playing already. */
export const PRESS_AGAIN = ['restart', 'stop', 'overlap'] as const;
export type PressAgain = (typeof PRESS_AGAIN)[number];

export const MODE_WORDS: Record<PadMode, string> = Object.freeze({
  once: 'to the end',
  loop: 'in a loop',
  hold: 'while held',
});

export const AGAIN_WORDS: Record<PressAgain, string> = Object.freeze({
  restart: 'starts again',
  stop: 'stops',
  overlap: 'plays twice',
});
