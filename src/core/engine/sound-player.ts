import type { Stereo } from './mixer';
import { createPlayed, type Played, type PlayedSink } from './played';

/** A sound held in memory at the engine's rate. Mono sounds carry the same array twice. */
export interface SoundClip {
  left: Float32Array;
  right: Float32Array;
  /** Whether it goes on for ever: from `loopTo` back to `loopFrom`. */
  loop: boolean;
  /** In samples from the beginning; the whole sound unless given. */
  loopFrom?: number;
  loopTo?: number;
  /** Comes up over so many samples whenever it is started. */
  fadeInSamples?: number;
}

/** Fade of a sound that is stopped, so that stopping never clicks: 10 ms. */
export const STOP_RAMP_SAMPLES = 480;

/** From under the talk to silence in one move: down to a level, held there, and out. */
export interface UnderTalk {
  underDb: number;
  underSamples: number;
  holdSamples: number;
  outSamples: number;
}

interface Playing {
  sound: string;
  clip: SoundClip;
  position: number;
  gain: number;
  /** What fades that were overtaken by another had come down to. */
  held: number;
  fadeInDone: number;
  fadeInLength: number;
  /** Samples left of the fade to silence; -1 while not stopping. */
  fadeLeft: number;
  fadeLength: number;
  /** The move under the talk: its gain now, by what it changes a sample, and samples left of each part. */
  under: number;
  underStep: number;
  underLeft: number;
  holdLeft: number;
  outLength: number;
  played: Played;
}

/**
 * Plays pads into one source. Starting takes effect on the first sample of the next block, so two
 * starts before one block begin on the same sample; a sound started twice is heard twice. Fades
 * follow a quarter of a sine, so that one sound that fades into another keeps its power.
 */
export interface SoundPlayer {
  /** @param fadeInSamples as the clip has it unless it takes over from another sound more slowly */
  start(sound: string, clip: SoundClip, gain: number, fadeInSamples?: number): void;
  /** Stops one sound with a fade (10 ms unless given). */
  stop(sound: string, fadeSamples?: number): void;
  stopAll(fadeSamples?: number): void;
  /** Takes a sound under the talk and out; one that is on its way already goes out now. */
  takeUnder(sound: string, move: UnderTalk): void;
  /** Level of a sound that is playing, linear; moves with the next block's ramp. */
  setGain(sound: string, gain: number): void;
  /** Fills a block that begins at a session clock; returns how many sounds are playing after it. */
  fill(out: Stereo, length: number, clock: number): number;
  /** Position of a sound in samples from its beginning, or -1 when it is not playing. */
  positionOf(sound: string): number;
  /** Reports what is playing as if it ended here; it plays on. */
  report(clock: number): void;
}

/** @param sink is told of every sound that ended */
export function createSoundPlayer(sink: PlayedSink = () => undefined): SoundPlayer {
  const playing: Playing[] = [];
  const targetGain = new Map<string, number>();

  const fadeNow = (entry: Playing): number =>
    entry.fadeLeft < 0 ? 1 : Math.sin((Math.PI / 2) * (entry.fadeLeft / entry.fadeLength));

  const add = (entry: Playing, out: Stereo, length: number): void => {
    const { clip, played } = entry;
    const { left, right } = clip;
    const from = clip.loopFrom ?? 0;
    const end = clip.loop ? (clip.loopTo ?? left.length) : left.length;
    const goal = targetGain.get(entry.sound) ?? entry.gain;
    const step = (goal - entry.gain) / length;
    for (let i = 0; i < length; i++) {
      if (entry.position >= end) {
        if (!clip.loop) break;
        entry.position = from;
      }
      if (entry.fadeLeft === 0) break;
      let gain = entry.gain * entry.held * entry.under;
      if (entry.fadeInDone < entry.fadeInLength) gain *= Math.sin((Math.PI / 2) * (entry.fadeInDone++ / entry.fadeInLength));
      if (entry.fadeLeft > 0) {
        gain *= fadeNow(entry);
        entry.fadeLeft--;
      }
      if (entry.underLeft > 0) {
        entry.under *= entry.underStep;
        entry.underLeft--;
      } else if (entry.holdLeft > 0 && --entry.holdLeft === 0) fadeOut(entry, entry.outLength);
      const l = left[entry.position] * gain;
      const r = right[entry.position] * gain;
      out.left[i] += l;
      out.right[i] += r;
      played.take(l, r);
      entry.position++;
      entry.gain += step;
    }
    entry.gain = goal;
  };

  const ended = (entry: Playing): boolean =>
    entry.fadeLeft === 0 || (!entry.clip.loop && entry.position >= entry.clip.left.length);

  const fadeOut = (entry: Playing, fadeSamples: number): void => {
    if (entry.fadeLeft >= 0 && entry.fadeLeft <= fadeSamples) return;
    entry.held *= fadeNow(entry);
    entry.fadeLeft = fadeSamples;
    entry.fadeLength = fadeSamples;
  };

  return {
    start(sound, clip, gain, fadeInSamples = 0) {
      targetGain.set(sound, gain);
      playing.push({
        sound,
        clip,
        position: 0,
        gain,
        held: 1,
        fadeInDone: 0,
        fadeInLength: Math.max(fadeInSamples, clip.fadeInSamples ?? 0),
        fadeLeft: -1,
        fadeLength: 0,
        under: 1,
        underStep: 1,
        underLeft: 0,
        holdLeft: 0,
        outLength: 0,
        played: createPlayed(),
      });
    },
    stop(sound, fadeSamples = STOP_RAMP_SAMPLES) {
      for (const entry of playing) if (entry.sound === sound) fadeOut(entry, fadeSamples);
    },
    stopAll(fadeSamples = STOP_RAMP_SAMPLES) {
      for (const entry of playing) fadeOut(entry, fadeSamples);
    },
    takeUnder(sound, { underDb, underSamples, holdSamples, outSamples }) {
      for (const entry of playing) {
        if (entry.sound !== sound || entry.fadeLeft >= 0) continue;
        if (entry.underLeft > 0 || entry.holdLeft > 0) {
          entry.underLeft = entry.holdLeft = 0;
          fadeOut(entry, outSamples);
          continue;
        }
        entry.underLeft = Math.max(1, underSamples);
        entry.underStep = 10 ** (underDb / 20 / entry.underLeft);
        entry.holdLeft = Math.max(1, holdSamples);
        entry.outLength = Math.max(STOP_RAMP_SAMPLES, outSamples);
      }
    },
    setGain(sound, gain) {
      targetGain.set(sound, gain);
    },
    fill(out, length, clock) {
      out.left.fill(0, 0, length);
      out.right.fill(0, 0, length);
      let kept = 0;
      for (let k = 0; k < playing.length; k++) {
        const entry = playing[k];
        if (entry.played.startedAt < 0) entry.played.startedAt = clock;
        add(entry, out, length);
        if (ended(entry)) entry.played.tell(sink, entry.sound);
        else playing[kept++] = entry;
      }
      playing.length = kept;
      return kept;
    },
    positionOf(sound) {
      for (let k = playing.length - 1; k >= 0; k--) {
        if (playing[k].sound === sound && playing[k].fadeLeft < 0) return playing[k].position;
      }
      return -1;
    },
    report(clock) {
      for (const { played, sound } of playing) {
        if (played.startedAt < 0) continue;
        played.tell(sink, sound);
        played.startedAt = clock;
      }
    },
  };
}
