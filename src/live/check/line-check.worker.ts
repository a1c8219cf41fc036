import type { SourceId } from '@/core/hearing/ids';
import { DECIMATE_REACH, decimateTo16k, TO_16_KHZ } from '@/core/dsp/decimate';
import { crosspointsInEngine } from '@/core/linecheck/crosspoints';
import { lengthOf, PROBE_DB, STAGES, type StageName } from '@/core/linecheck/schedule';
import { listenerCodes, sourceCodes, type CheckSetup } from '@/core/linecheck/setup';
import { findArrivals, type Arrivals } from '@/core/linecheck/ways-back';
import { ringReader, type RingReader } from '../recorder/ring';
import type { FromCheckWorker, ToCheckWorker } from './check-messages';
import { StageRecording } from './stage-recording';

const DRAIN_MS = 40;
/** The capture begins before the probes do, by a message from thread to thread. */
const ROOM_BEFORE = 96_000;

/** A stage that runs. */
interface Running {
  name: StageName;
  names: string[];
  leftOut: string[];
  recording: StageRecording;
  reader: RingReader;
  at: number | null;
}

let setup: CheckSetup | null = null;
let running: Running | null = null;

const tell = (message: FromCheckWorker): void => self.postMessage(message);

self.onmessage = ({ data }: MessageEvent<ToCheckWorker>) => {
  switch (data.type) {
    case 'begin':
      setup = data.setup;
      // Made now, they are ready when the first stage is over.
      sourceCodes(setup.sources.length, setup.seed);
      listenerCodes(setup.listeners.length, setup.seed);
      return;
    case 'stage': {
      const recording = new StageRecording(data.taps, lengthOf(STAGES[data.stage]) + ROOM_BEFORE);
      running = { name: data.stage, names: data.names, leftOut: data.leftOut, recording, reader: ringReader(data.ring, recording.channels), at: null };
      return;
    }
    case 'began':
      if (running) running.at = data.at;
  }
};

setInterval(() => {
  const stage = running;
  if (!stage || !setup) return;
  stage.reader.drain((position, channels) => stage.recording.take(position, channels));
  if (stage.at === null || stage.recording.until < stage.at + lengthOf(STAGES[stage.name])) return;
  running = null;
  if (stage.name === 'sources') judgeSources(setup, stage, stage.at);
  else judgeInputs(setup, stage, stage.at);
}, DRAIN_MS);

/** A stretch at 16 kHz, with what lies beside it heard by the filter. */
function at16k(recording: StageRecording, signal: number, from: number, length: number): Float32Array {
  return decimateTo16k(recording.part(signal, from - DECIMATE_REACH, length + 2 * DECIMATE_REACH)).subarray(DECIMATE_REACH / TO_16_KHZ, (DECIMATE_REACH + length) / TO_16_KHZ);
}

function judgeSources(check: CheckSetup, { recording }: Running, at: number): void {
  const { leadIn, judged } = STAGES.sources;
  const codes = sourceCodes(check.sources.length, check.seed);
  tell({ type: 'sources', engineDb: check.listeners.map((_, k) => crosspointsInEngine(at16k(recording, k, at + leadIn, judged), codes, leadIn / 48, check.sourcesDb)) });
}

function judgeInputs(check: CheckSetup, { name, names, leftOut, recording }: Running, at: number): void {
  const { leadIn, judged } = STAGES[name];
  const codes = listenerCodes(check.listeners.length, check.seed);
  const sent = check.listeners.flatMap((listener, k) => (leftOut.includes(listener) ? [] : [k]));
  const silent: SourceId[] = [];
  const heard = (names as SourceId[]).map((source, k): [SourceId, Arrivals] => {
    const input = recording.part(k, at + leadIn, judged);
    if (input.every((sample) => sample === 0)) silent.push(source);
    return [source, findArrivals(at16k(recording, k, at + leadIn, judged), codes, leadIn / 48, PROBE_DB, sent)];
  });
  tell({ type: 'inputs', heard, silent });
}
