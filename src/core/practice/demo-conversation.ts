import type { Turn } from './conversation';

/** A demo talker: how the speech synthesiser is to sound when the clips are made. */
export interface DemoVoice {
  id: string;
  synthesiser: { variant: string; pitch: number; speed: number };
  /** Loudness of the one-channel clips, LUFS; 3 more on two sides. People do not come in equally loud. */
  loudnessLufs: number;
  lines: readonly string[];
}

/** The made-up talkers of the practice call, and what they say. */
export const DEMO_VOICES: readonly DemoVoice[] = [
  {
    id: 'maren',
    synthesiser: { variant: 'en-gb+f3', pitch: 46, speed: 158 },
    loudnessLufs: -22,
    lines: [
      'Welcome to Ferry Weather. Today, the last chain ferry on the river.',
      'Odalys, what does the chain sound like from the wheelhouse?',
      'Tomasz, you rebuilt the winch. How long did that take?',
      'Priya, when did people begin to cross here?',
      'Hold that thought. I want to ring the bell for you.',
    ],
  },
  {
    id: 'odalys',
    synthesiser: { variant: 'en-us+f2', pitch: 58, speed: 168 },
    loudnessLufs: -24,
    lines: [
      'It hums before you move. Then every link knocks once, like slow rain.',
      'I can tell the water level by the note it makes.',
      'On foggy mornings I steer by that sound alone.',
    ],
  },
  {
    id: 'tomasz',
    synthesiser: { variant: 'en+m3', pitch: 32, speed: 150 },
    loudnessLufs: -21,
    lines: [
      'Two winters. The first one we only cleaned the gears.',
      'A chain stretches. Every spring we take out one link.',
      'She will outlast all of us, if you keep her greased.',
    ],
  },
  {
    id: 'priya',
    synthesiser: { variant: 'en-029+f4', pitch: 52, speed: 162 },
    loudnessLufs: -27,
    lines: [
      'The first toll book is from sixteen ninety one. A goose paid half.',
      'Before the chain there was a rope, and before the rope, a strong man.',
      'Every village on this bank has a drowned bell in its stories.',
    ],
  },
];

/** People at the far end of made-up cables, in an outside program, and somebody at the made-up microphone. */
export const FAR_END_VOICES: readonly DemoVoice[] = [
  {
    id: 'ines',
    synthesiser: { variant: 'en-gb+f5', pitch: 40, speed: 156 },
    loudnessLufs: -23,
    lines: ['Harbour office here. I can hear you well.', 'The tide tables hang where they always hung.', 'We close the slip at noon, chain or no chain.'],
  },
  {
    id: 'anselm',
    synthesiser: { variant: 'en+m5', pitch: 40, speed: 148 },
    loudnessLufs: -23,
    lines: ['And this is Anselm, at the same table.', 'I keep the logbook, she keeps the keys.'],
  },
  {
    id: 'microphone',
    synthesiser: { variant: 'en-gb+f1', pitch: 50, speed: 160 },
    loudnessLufs: -24,
    lines: ['One, two. This is the made-up microphone.', 'Whoever has none of their own can try everything with me.'],
  },
];

/** Everybody is heard once in the first quarter of a minute; then the talk begins. */
const talk: readonly [speaker: string, line: number][] = [
  ['maren', 0],
  ['odalys', 1],
  ['tomasz', 2],
  ['priya', 2],
  ['maren', 1],
  ['odalys', 0],
  ['odalys', 2],
  ['maren', 2],
  ['tomasz', 0],
  ['tomasz', 1],
  ['maren', 3],
  ['priya', 0],
  ['priya', 1],
  ['maren', 4],
];

/** The order of the demo's turns, for the speakers in the order of {@link DEMO_VOICES}. */
export const DEMO_TURNS: readonly Turn[] = talk.map(([speaker, clip]) => ({
  speaker: DEMO_VOICES.findIndex(({ id }) => id === speaker),
  clip,
}));

/** Where a clip of the far end is served from, and stored below `public`. */
export const farEndClipPath = (voice: string, line: number): string => `/practice/far-end/${voice}-${line + 1}.flac`;

/** Where a demo clip is served from, and stored below `public`. */
export function demoClipPath(voice: string, line: number): string {
  return `/practice/voices/${voice}-${line + 1}.flac`;
}
