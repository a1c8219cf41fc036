import type { HeldUp, TaskData } from '@/core/tasks/task';

const HELD_UP_WORDS: Record<HeldUp, string> = {
  recording: 'slowly, while something is being recorded; it gets faster the longer it waits',
  call: 'slowly, while a call is on; it gets faster the longer it waits',
  machine: 'slowly: other programs on the server take most of its time',
};

/** How far work is, and what holds it up: `Measuring … 34 %, slowly, while a call is on`. */
export function progressInWords(what: string, { state, progress, heldUp, before }: TaskData): string {
  if (state === 'waiting') return before === 0 ? `${what}: about to begin` : `${what}: ${before === 1 ? 'one other task' : `${before} other tasks`} first`;
  return `${what} … ${Math.round(100 * progress)} %${heldUp ? `, ${HELD_UP_WORDS[heldUp]}` : ''}`;
}
