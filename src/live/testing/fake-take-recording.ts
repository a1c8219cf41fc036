import type { AudioDesk } from '../desk/audio-desk';
import type { FromRecorder, LineGap } from '../recorder/messages';
import type { NumberedInForce, TakeRecording, TrackChoice } from '../recorder/take-recording';
import type { Tap } from '@/core/session/captures';

/** What a desk told the recorder of one take, and the recorder's voice. */
export interface TakeChoices {
  gaps: LineGap[];
  /** Numbers of the plans that were put into force, the first one that of the beginning. */
  plans: number[];
  /** Tracks that were added, and all taps with them. */
  added: { recorded: string[]; taps: Tap[] }[];
  stopped: boolean;
  say(message: FromRecorder): void;
}

/** Stands for the recorder of takes: it notes what it is told and says what a test wants it to say. */
export const beginTakeRecording = Object.assign(
  (...[, , , , , inForce, say]: [AudioDesk, string, unknown, unknown, unknown, () => NumberedInForce, (message: FromRecorder) => void]): Promise<TakeRecording> => {
    if (beginTakeRecording.fails !== null) return Promise.reject(new Error(beginTakeRecording.fails));
    const choices: TakeChoices = { gaps: [], plans: [inForce().number], added: [], stopped: false, say };
    const copy = (gaps: readonly LineGap[]) => void (choices.gaps = gaps.map((gap) => ({ ...gap })));
    beginTakeRecording.hears(choices);
    return Promise.resolve({
      take: 'take-1',
      number: 4,
      inForce: ({ number }) => void choices.plans.push(number),
      lineGaps: copy,
      addTracks: (more: readonly TrackChoice[], _, all) => void choices.added.push({ recorded: more.map(({ recorded }) => recorded), taps: [...all] }),
      stop(gaps) {
        copy(gaps);
        choices.stopped = true;
      },
      tryAgain: () => undefined,
      close: () => undefined,
    });
  },
  { fails: null as string | null, hears: (_: TakeChoices): void => undefined },
);
