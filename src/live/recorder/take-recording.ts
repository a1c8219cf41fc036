import type { LeftOut, TakePause } from '@/core/takes/pauses';
import type { RecordedKind } from '@/core/takes/track-kinds';
import type { SampleFormat } from '@/core/formats/wav/sample-format';
import type { HearingPlan } from '@/core/hearing/plan';
import { sendJson } from '../api';
import type { AudioDesk } from '../desk/audio-desk';
import type { Tap } from '../worklet/messages';
import { CALL_START, RECORDED_FRAMES } from '../worklet/status-board';
import type { FromRecorder, LineGap, LineGaps, PlanChanged, StartRecording, TakePaused } from './messages';
import { ringBytes } from './ring';

/** One track as the host chose it: what it is called, and where in the engine it is taken. */
export interface TrackChoice {
  kind: RecordedKind;
  recorded: string;
  name: string;
  tap: Tap;
}

/** A take being recorded: ring, worker and server together. */
export interface TakeRecording {
  readonly take: string;
  readonly number: number;
  /** Notes that another plan is in force from now on. */
  planChanged(plan: HearingPlan): void;
  /** What the lines did not bring so far. */
  lineGaps(gaps: readonly LineGap[]): void;
  /** Where it was paused so far. */
  pauses(pauses: readonly TakePause[]): void;
  /** Stops capturing; the recorder then sends the rest and seals the take. */
  stop(lineGaps: readonly LineGap[]): void;
  close(): void;
}

/** A disk that does not open in this time does not hold up the recording; the ring holds as much. */
const LONGEST_START_MS = 4000;

/** Begins a take on the server and starts to record all tracks at the same sample. */
export async function beginTakeRecording(
  desk: AudioDesk,
  episode: string,
  tracks: readonly TrackChoice[],
  format: SampleFormat,
  leftOut: readonly LeftOut[],
  onMessage: (message: FromRecorder) => void,
): Promise<TakeRecording> {
  const begun = await sendJson<{ take: string; number: number; tracks: string[] }>('POST', `/api/episodes/${episode}/takes`, {
    tracks: tracks.map(({ kind, recorded, name, tap }) => ({
      kind,
      recorded,
      name,
      channels: tap.channels,
      format,
    })),
    notRecorded: leftOut,
  });
  const ring = new SharedArrayBuffer(ringBytes(tracks.reduce((sum, { tap }) => sum + tap.channels, 0)));
  const worker = new Worker(new URL('./recorder.worker.ts', import.meta.url), { type: 'module' });
  let begin: () => void = () => undefined;
  const ready = new Promise<void>((resolve) => {
    begin = resolve;
  });
  worker.onmessage = ({ data }: MessageEvent<FromRecorder>) => (data.type === 'ready' ? begin() : onMessage(data));
  const fail = () => onMessage({ type: 'failed', message: 'The recorder stopped. What is on the server is safe.' });
  worker.onerror = fail;
  worker.onmessageerror = fail;
  const callStart = desk.board.clocks[CALL_START];
  const start: StartRecording = {
    type: 'start',
    take: begun.take,
    tracks: tracks.map(({ tap, recorded }, place) => ({
      id: begun.tracks[place],
      recorded,
      channels: tap.channels,
      format,
    })),
    ring,
    clockAtCall: callStart < 0 ? null : callStart,
  };
  worker.postMessage(start);
  await Promise.race([ready, new Promise((resolve) => setTimeout(resolve, LONGEST_START_MS))]);
  desk.tell({ type: 'record', ring, taps: tracks.map(({ tap }) => tap) });
  return takeRecording(desk, worker, begun.take, begun.number);
}

/** A take that a worker records from a desk. */
export function takeRecording(desk: AudioDesk, worker: Worker, take: string, number: number): TakeRecording {
  return {
    take,
    number,
    planChanged(plan) {
      const atSample = Math.round(desk.board.clocks[RECORDED_FRAMES]);
      worker.postMessage({ type: 'plan-changed', atSample, plan } satisfies PlanChanged);
    },
    lineGaps: (gaps) => worker.postMessage({ type: 'line-gaps', gaps: [...gaps] } satisfies LineGaps),
    pauses: (pauses) => worker.postMessage({ type: 'paused', pauses: [...pauses] } satisfies TakePaused),
    stop(gaps) {
      worker.postMessage({ type: 'line-gaps', gaps: [...gaps] } satisfies LineGaps);
      desk.tell({ type: 'stop-recording' });
    },
    close: () => worker.terminate(),
  };
}
