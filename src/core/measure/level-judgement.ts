/** What a level over the last seconds means for somebody who is about to be recorded. */
export type LevelJudgement = 'nothing' | 'too-low' | 'good' | 'hot' | 'too-loud';

export const LEVEL_WORDS: Record<LevelJudgement, string> = Object.freeze({
  nothing: 'Nothing is heard yet. Say something.',
  'too-low': 'Too quiet. Come closer to the microphone, or turn it up.',
  good: 'Good. Speak like this.',
  hot: 'A little loud. Move back a hand’s width.',
  'too-loud': 'Too loud: it distorts. Turn the microphone down.',
});

/**
 * Judges a speaking voice by the loudest sample and the loudest 400 ms of the last few seconds.
 * @param peakDb largest sample, dBFS
 * @param speechDb RMS of the loudest stretch, dBFS
 */
export function judgeLevel(peakDb: number, speechDb: number): LevelJudgement {
  if (peakDb > -0.5) return 'too-loud';
  if (speechDb < -58) return 'nothing';
  if (peakDb > -4) return 'hot';
  return speechDb < -38 ? 'too-low' : 'good';
}
