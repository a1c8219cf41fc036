import type { Stereo } from '../engine/mixer';

/** 10 ms, like every change of gain. */
const RAMP_SAMPLES = 480;

/**
 * The switch a microphone passes when its owner talks back: from the voice to the talkback and back,
 * without a click. It stands before the engine, so private words are on no track but the talkback's.
 */
export interface TalkSwitch {
  /** Engine places of the voice and of its talkback; −1 for none. */
  slots(voice: number, talkback: number): void;
  turn(talking: boolean): void;
  process(inputs: readonly Stereo[], length: number): void;
}

export function createTalkSwitch(): TalkSwitch {
  let voice = -1;
  let talkback = -1;
  let talking = false;
  let done = 0; // samples into the way from voice (0) to talkback (RAMP_SAMPLES)

  return {
    slots(voiceSlot, talkbackSlot) {
      voice = voiceSlot;
      talkback = talkbackSlot;
    },
    turn(on) {
      talking = on;
    },
    process(inputs, length) {
      if ((!talking && done === 0) || voice < 0 || talkback < 0) return;
      const from = inputs[voice];
      const to = inputs[talkback];
      for (let i = 0; i < length; i++) {
        if (talking && done < RAMP_SAMPLES) done++;
        else if (!talking && done > 0) done--;
        const share = done / RAMP_SAMPLES;
        to.left[i] = from.left[i] * share;
        to.right[i] = from.right[i] * share;
        from.left[i] -= to.left[i];
        from.right[i] -= to.right[i];
      }
    },
  };
}
