import type { LineKind, Reflexive, SeatRole } from '@/core/hearing/plan';

interface DemoPerson {
  id: string;
  name: string;
  fullName: string;
  about: string;
  role: SeatRole;
  line: LineKind;
  reflexive: Reflexive;
  practice: { voice: string; loudspeakers: boolean; network: 'good' | 'weak' } | null;
}

/** The people of the demo episode. All made up. */
export const DEMO_PEOPLE: readonly DemoPerson[] = [
  {
    id: 'maren',
    name: 'Maren',
    fullName: 'Maren Sollis',
    about: 'host, in a boathouse',
    role: 'host',
    line: 'pair',
    reflexive: 'herself',
    practice: { voice: 'maren', loudspeakers: false, network: 'good' },
  },
  {
    id: 'odalys',
    name: 'Odalys',
    fullName: 'Odalys Brandt',
    about: 'pilot, with a headset',
    role: 'caller',
    line: 'practice',
    reflexive: 'herself',
    practice: { voice: 'odalys', loudspeakers: false, network: 'good' },
  },
  {
    id: 'tomasz',
    name: 'Tomasz',
    fullName: 'Tomasz Wierzba',
    about: 'engineer, on loudspeakers',
    role: 'caller',
    line: 'practice',
    reflexive: 'himself',
    practice: { voice: 'tomasz', loudspeakers: true, network: 'good' },
  },
  {
    id: 'priya',
    name: 'Priya',
    fullName: 'Priya Nandakumar',
    about: 'river historian, on a weak network',
    role: 'caller',
    line: 'practice',
    reflexive: 'herself',
    practice: { voice: 'priya', loudspeakers: false, network: 'weak' },
  },
  {
    id: 'harbour',
    name: 'Harbour',
    fullName: 'Harbour office',
    about: 'by another program, on two cables',
    role: 'caller',
    line: 'pair',
    reflexive: 'themselves',
    practice: { voice: 'ines', loudspeakers: false, network: 'good' },
  },
  {
    id: 'jude',
    name: 'Jude',
    fullName: 'Jude Achterberg',
    about: 'producer',
    role: 'producer',
    line: 'practice',
    reflexive: 'themselves',
    practice: null,
  },
];

/** Pads of the demo episode, with a level that sits them under the voices. */
export const DEMO_PADS = [
  { file: 'opening-theme', name: 'Opening theme', kind: 'theme', credit: 'Maren Sollis', player: 'effects', key: '1', mode: 'once', again: 'restart', levelDb: 0 },
  { file: 'ships-bell', name: 'Ship’s bell', kind: 'clip', player: 'effects', key: '2', mode: 'once', again: 'restart', levelDb: -3 },
  { file: 'river-bed', name: 'River bed', kind: 'bed', player: 'bed', key: '3', mode: 'loop', again: 'stop', levelDb: -12 },
  { file: 'break-sting', name: 'Break sting', kind: 'sting', player: 'effects', key: '4', mode: 'once', again: 'restart', levelDb: 0 },
] as const;
