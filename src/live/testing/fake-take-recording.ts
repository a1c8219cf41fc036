import type { TakePause } from '@/core/takes/pauses';
import type { AudioDesk } from '../desk/audio-desk';
import type { FromRecorder, LineGap } from '../recorder/messages';
import type { TakeRecording } from '../recorder/take-recording';

/** What a desk told the recorder of one take, and the recorder's voice. */
export interface TakeChoices {
  gaps: LineGap[];
  pauses: TakePause[];
  stopped: boolean;
  say(message: FromRecorder): void;
}

/** Stands for the recorder of takes: it notes what it is told and says what a test wants it to say. */
export const beginTakeRecording = Object.assign(
  (...[, , , , , say]: [AudioDesk, string, unknown, unknown, unknown, (message: FromRecorder) => void]): Promise<TakeRecording> => {
    if (beginTakeRecording.fails !== null) return Promise.reject(new Error(beginTakeRecording.fails));
    const choices: TakeChoices = { gaps: [], pauses: [], stopped: false, say };
    const copy = (gaps: readonly LineGap[]) => void (choices.gaps = gaps.map((gap) => ({ ...gap })));
    beginTakeRecording.hears(choices);
    return Promise.resolve({
      take: 'take-1',
      number: 4,
      planChanged: () => undefined,
      lineGaps: copy,
      pauses: (pauses) => void (choices.pauses = [...pauses]),
      stop(gaps) {
        copy(gaps);
        choices.stopped = true;
      },
      close: () => undefined,
    });
  },
  { fails: null as string | null, hears: (_: TakeChoices): void => undefined },
);
