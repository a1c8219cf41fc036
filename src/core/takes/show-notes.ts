import { SAMPLE_RATE } from './chunks';
import type { TakeMarker } from './markers';

export interface ShowNotesFacts {
  show: string;
  episode: string;
  /** Who is heard, in the order of the tracks. */
  people: readonly string[];
  markers: readonly Pick<TakeMarker, 'atSample' | 'name'>[];
  /** Names of the sounds that were played. */
  sounds: readonly string[];
}

/** Notes to go with an episode, as Markdown (CommonMark): who is heard, what comes when, and which sounds were played. */
export function showNotes({ show, episode, people, markers, sounds }: ShowNotesFacts): string {
  const once = [...new Set(sounds)];
  const parts = [
    `# ${plain(episode)}`,
    plain(show),
    people.length > 0 && `With ${inWords(people.map(plain))}.`,
    markers.length > 0 && `## In this episode\n\n${markers.map(({ atSample, name }) => `- ${clock(atSample)} ${plain(name)}`).join('\n')}`,
    once.length > 0 && `## Sounds\n\n${once.map((name) => `- ${plain(name)}`).join('\n')}`,
  ];
  return `${parts.filter(Boolean).join('\n\n')}\n`;
}

/** `1:02:07`, or `2:07` in the first hour. */
function clock(sample: number): string {
  const seconds = Math.floor(sample / SAMPLE_RATE);
  const [hours, minutes] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60];
  return `${hours > 0 ? `${hours}:${String(minutes).padStart(2, '0')}` : minutes}:${String(seconds % 60).padStart(2, '0')}`;
}

/** One line without anything that Markdown reads as more than letters. */
const plain = (text: string): string => text.replace(/\s+/g, ' ').trim().replace(/[\\`*_{}[\]<>#|~]/g, '\\$&');

const inWords = (names: readonly string[]): string => (names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names.at(-1)!}` : names[0]);
