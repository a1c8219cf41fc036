import type { Stereo } from './mixer';

/** A sound held in memory at the engine's rate. Mono sounds carry the same array twice. */
export interface SoundClip {
  left: Float32Array;
  right: Float32Array;
  /** Whether the end joins the beginning. */
  loop: boolean;
}

/** Fade of a sound that is stopped, so that stopping never clicks: 10 ms. */
const STOP_RAMP_SAMPLES = 480;

interface Playing {
  sound: string;
  clip: SoundClip;
  position: number;
  gain: number;
  /** Samples left of the fade to silence; -1 while not stopping. */
  fadeLeft: number;
  fadeLength: number;
}

/**
 * Plays pads into one source. Starting takes effect on the first sample of the next block, so two
 * starts before one block begin on the same sample. A sound that is started again starts over.
 */
export interface SoundPlayer {
  start(sound: string, clip: SoundClip, gain: number): void;
  /** Stops one sound with a fade (10 ms unless given). */
  stop(sound: string, fadeSamples?: number): void;
  stopAll(fadeSamples?: number): void;
  /** Level of a sound that is playing, linear; moves with the next block's ramp. */
  setGain(sound: string, gain: number): void;
  /** Fills a block; returns how many sounds are playing after it. */
  fill(out: Stereo, length: number): number;
  /** Position of a sound in samples from its beginning, or -1 when it is not playing. */
  positionOf(sound: string): number;
}

export function createSoundPlayer(): SoundPlayer {
  const playing: Playing[] = [];
  const targetGain = new Map<string, number>();

  const add = (entry: Playing, out: Stereo, length: number): void => {
    const { clip } = entry;
    const end = clip.left.length;
    const goal = targetGain.get(entry.sound) ?? entry.gain;
    const step = (goal - entry.gain) / length;
    for (let i = 0; i < length; i++) {
      if (entry.position >= end) {
        if (!clip.loop) return;
        entry.position = 0;
      }
      let gain = entry.gain;
      if (entry.fadeLeft >= 0) {
        if (entry.fadeLeft === 0) return;
        gain *= entry.fadeLeft / entry.fadeLength;
        entry.fadeLeft--;
      }
      out.left[i] += clip.left[entry.position] * gain;
      out.right[i] += clip.right[entry.position] * gain;
      entry.position++;
      entry.gain += step;
    }
    entry.gain = goal;
  };
  const ended = (entry: Playing): boolean =>
    entry.fadeLeft === 0 || (!entry.clip.loop && entry.position >= entry.clip.left.length);

  const fadeOut = (entry: Playing, fadeSamples: number): void => {
    if (entry.fadeLeft >= 0 && entry.fadeLeft <= fadeSamples) return;
    entry.fadeLeft = fadeSamples;
    entry.fadeLength = fadeSamples;
  };

  return {
    start(sound, clip, gain) {
      for (const entry of playing) if (entry.sound === sound) fadeOut(entry, STOP_RAMP_SAMPLES);
      targetGain.set(sound, gain);
      playing.push({ sound, clip, position: 0, gain, fadeLeft: -1, fadeLength: 0 });
    },
    stop(sound, fadeSamples = STOP_RAMP_SAMPLES) {
      for (const entry of playing) if (entry.sound === sound) fadeOut(entry, fadeSamples);
    },
    stopAll(fadeSamples = STOP_RAMP_SAMPLES) {
      for (const entry of playing) fadeOut(entry, fadeSamples);
    },
    setGain(sound, gain) {
      targetGain.set(sound, gain);
    },
    fill(out, length) {
      out.left.fill(0, 0, length);
      out.right.fill(0, 0, length);
      for (const entry of playing) add(entry, out, length);
      let kept = 0;
      for (let k = 0; k < playing.length; k++) if (!ended(playing[k])) playing[kept++] = playing[k];
      playing.length = kept;
      return kept;
    },
    positionOf(sound) {
      for (let k = playing.length - 1; k >= 0; k--) {
        if (playing[k].sound === sound && playing[k].fadeLeft < 0) return playing[k].position;
      }
      return -1;
    },
  };
}
