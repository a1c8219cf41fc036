/** A talker: speech clips laid on a timeline, silence between them. One channel at 48 kHz. */
export interface PracticeVoice {
  /** Says a clip from an absolute sample on. Clips must be scheduled in time order. */
  say(clip: Float32Array, atSample: number): void;
  /** Writes the samples from the voice's own clock on. */
  fill(out: Float32Array, length: number): void;
}

interface Utterance {
  clip: Float32Array;
  atSample: number;
}

export function createPracticeVoice(): PracticeVoice {
  const queue: Utterance[] = [];
  let clock = 0;
  return {
    say(clip, atSample) {
      queue.push({ clip, atSample });
    },
    fill(out, length) {
      out.fill(0, 0, length);
      for (const { clip, atSample } of queue) {
        const from = Math.max(0, atSample - clock);
        const to = Math.min(length, atSample + clip.length - clock);
        for (let i = from; i < to; i++) out[i] += clip[clock + i - atSample];
      }
      clock += length;
      while (queue.length > 0 && queue[0].atSample + queue[0].clip.length <= clock) queue.shift();
    },
  };
}
