import type { LeftOut } from '@/core/takes/pauses';
import { keptHands } from '@/core/takes/plan-log';
import type { RecordedKind } from '@/core/takes/track-kinds';
import type { SampleFormat } from '@/core/formats/wav/sample-format';
import type { HearingPlan } from '@/core/hearing/plan';
import type { OnAir } from '@/core/hearing/on-air';
import { sendJson } from '../api';
import type { AudioDesk } from '../desk/audio-desk';
import type { Tap } from '@/core/session/captures';
import { CALL_START } from '../worklet/status-board';
import type { BoardMemory, FromRecorder, LineGap, LineGaps, MoreTracks, NumberedPlan, StartRecording, TryAgain } from './messages';
import { closeRing, ringBytes } from './ring';

/** One track as the host chose it: what it is called, and where in the engine it is taken. */
export interface TrackChoice {
  kind: RecordedKind;
  recorded: string;
  name: string;
  tap: Tap;
}

/** What the engine has been given, by the number it was given with. */
export interface NumberedInForce {
  number: number;
  plan: HearingPlan;
  onAir: OnAir;
  rampSeconds?: number;
}

/** A take being recorded: ring, worker and server together. */
export interface TakeRecording {
  readonly take: string;
  readonly number: number;
  /** Says which plan is next given to the audio thread; when it came into force, that writes down itself. */
  inForce(plan: NumberedInForce): void;
  /** What the lines did not bring so far. */
  lineGaps(gaps: readonly LineGap[]): void;
  /** Records further tracks from now on; `all` are the taps of those there are, and then theirs. */
  addTracks(more: readonly TrackChoice[], format: SampleFormat, all: readonly Tap[]): void;
  /** Stops capturing; the recorder then sends the rest and seals the take. */
  stop(lineGaps: readonly LineGap[]): void;
  /** Sends what waits now, and not when its turn comes. */
  tryAgain(): void;
  close(): void;
}

/** A disk that does not open in this time does not hold up the recording; the ring holds as much. */
const LONGEST_START_MS = 4000;
/** An audio thread that has not ended a take in this time never will. */
const LONGEST_STOP_MS = 5000;

export const boardMemory = ({ board }: AudioDesk): BoardMemory => ({ status: board.memory, sources: board.sourcePeak.length, listeners: board.listenerPeak.length });

export const planMessage = ({ number, plan, onAir, rampSeconds }: NumberedInForce): NumberedPlan => ({ type: 'plan', number, plan, hands: keptHands(onAir), ...(rampSeconds === undefined ? {} : { rampSeconds }) });

const channelsOf = (taps: readonly Tap[]): number => taps.reduce((sum, { channels }) => sum + channels, 0);

/**
 * Begins a take on the server and starts to record all tracks at the same sample.
 * @param inForce what the engine has at the moment it is asked
 */
export async function beginTakeRecording(
  desk: AudioDesk,
  episode: string,
  tracks: readonly TrackChoice[],
  format: SampleFormat,
  leftOut: readonly LeftOut[],
  inForce: () => NumberedInForce,
  onMessage: (message: FromRecorder) => void,
): Promise<TakeRecording> {
  const { plan, onAir } = inForce();
  const begun = await sendJson<{ take: string; number: number; tracks: string[] }>('POST', `/api/episodes/${episode}/takes`, {
    tracks: tracks.map(({ kind, recorded, name, tap }) => ({ kind, recorded, name, channels: tap.channels, format })),
    notRecorded: leftOut,
    plan,
    hands: keptHands(onAir),
  });
  const ring = new SharedArrayBuffer(ringBytes(channelsOf(tracks.map(({ tap }) => tap))));
  const worker = new Worker(new URL('./recorder.worker.ts', import.meta.url), { type: 'module' });
  let begin: () => void = () => undefined;
  const ready = new Promise<void>((resolve) => {
    begin = resolve;
  });
  worker.onmessage = ({ data }: MessageEvent<FromRecorder>) => (data.type === 'ready' ? begin() : onMessage(data));
  const callStart = desk.board.clocks[CALL_START];
  const start: StartRecording = {
    type: 'start',
    take: begun.take,
    tracks: tracks.map(({ tap, recorded }, place) => ({ id: begun.tracks[place], recorded, channels: tap.channels, format })),
    ring,
    board: boardMemory(desk),
    clockAtCall: callStart < 0 ? null : callStart,
    leftOut: [...leftOut],
  };
  worker.postMessage(start);
  await Promise.race([ready, new Promise((resolve) => setTimeout(resolve, LONGEST_START_MS))]);
  worker.postMessage(planMessage(inForce()));
  desk.tell({ type: 'record', ring, taps: tracks.map(({ tap }) => tap) });
  return takeRecording(desk, worker, ring, begun.take, begun.number, onMessage);
}

/** A take that a worker records from a desk. */
export function takeRecording(desk: AudioDesk, worker: Worker, first: SharedArrayBuffer, take: string, number: number, onMessage: (message: FromRecorder) => void): TakeRecording {
  /** Further tracks whose disk is being opened, one lot after another. */
  const adding: { ring: SharedArrayBuffer; taps: Tap[] }[] = [];
  const rings = [first];
  /** The audio thread fills no further ring. */
  let stopped = false;
  worker.onmessage = ({ data }: MessageEvent<FromRecorder>) => {
    if (data.type !== 'ready') return onMessage(data);
    const next = adding.shift();
    if (next && stopped) closeRing(next.ring);
    else if (next) desk.tell({ type: 'record-more', ...next });
  };
  const fail = () => onMessage({ type: 'failed', message: 'The recorder stopped. What is on this computer and on the server is safe.' });
  worker.onerror = fail;
  worker.onmessageerror = fail;
  return {
    take,
    number,
    inForce: (plan) => worker.postMessage(planMessage(plan)),
    lineGaps: (gaps) => worker.postMessage({ type: 'line-gaps', gaps: [...gaps] } satisfies LineGaps),
    addTracks(more, format, all) {
      const ring = new SharedArrayBuffer(ringBytes(channelsOf(all)));
      adding.push({ ring, taps: [...all] });
      rings.push(ring);
      const tracks = more.map(({ kind, recorded, name, tap }) => ({ id: crypto.randomUUID(), recorded, channels: tap.channels, format, late: { kind, name, fromSample: null } }));
      worker.postMessage({ type: 'more-tracks', tracks, ring } satisfies MoreTracks);
    },
    stop(gaps) {
      stopped = true;
      worker.postMessage({ type: 'line-gaps', gaps: [...gaps] } satisfies LineGaps);
      desk.tell({ type: 'stop-recording' });
      setTimeout(() => rings.forEach(closeRing), LONGEST_STOP_MS);
    },
    tryAgain: () => worker.postMessage({ type: 'try-again' } satisfies TryAgain),
    close: () => worker.terminate(),
  };
}
