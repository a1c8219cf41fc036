import { BYTES_PER_SAMPLE, encodeSamples } from '@/core/formats/wav/sample-format';
import { createChunker } from '@/core/takes/chunker';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import type { FromRecorder, LineGap, LineGaps, PlanChanged, StartRecording } from './messages';
import { RING_BLOCK, ringReader } from './ring';
import { createUploader } from './uploader';

/** How often the ring is emptied: well before it is full, and within what may be lost. */
const DRAIN_MS = 100;
const LONGEST_PAUSE_MS = 8000;

const pause = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds));

const say = (message: FromRecorder): void => self.postMessage(message);

/** Plans that came into force during the take, sent along when it is sealed. */
const planChanges: Omit<PlanChanged, 'type'>[] = [];

let lineGaps: LineGap[] = [];

self.onmessage = ({ data }: MessageEvent<StartRecording | PlanChanged | LineGaps>) => {
  if (data.type === 'plan-changed') {
    planChanges.push({ atSample: data.atSample, plan: data.plan });
    return;
  }
  if (data.type === 'line-gaps') {
    lineGaps = data.gaps;
    return;
  }
  record(data).catch((error: Error) => say({ type: 'failed', message: error.message }));
};

async function record(start: StartRecording): Promise<void> {
  const { take, tracks } = start;
  const channelCounts = tracks.map((track) => track.channels);
  const ring = ringReader(start.ring, channelCounts.reduce<number>((sum, count) => sum + count, 0));
  let waiting: string | null = null;
  const stored = tracks.map(() => new Map<number, number>());
  const uploader = createUploader({
    onStored(chunk) {
      const place = tracks.findIndex(({ id }) => id === chunk.track);
      const { channels, format } = tracks[place];
      stored[place].set(chunk.index, chunk.bytes.length / (BYTES_PER_SAMPLE[format] * channels));
      waiting = null;
    },
    onWaiting(message) {
      waiting = message;
    },
  });
  const chunker = createChunker(channelCounts, (place, index, channels, frames) => {
    const bytes = encodeSamples(tracks[place].format, channels, 0, frames);
    uploader.send({ take, track: tracks[place].id, index, bytes });
  });
  const report = (): void =>
    say({ type: 'progress', capturedFrames: chunker.captured(), safeFrames: stored.map(safeFrames), waiting });

  while (!ring.ended()) {
    ring.drain((position, block) => chunker.push(position, block, RING_BLOCK));
    report();
    // Waiting by turns of the event loop rather than in Atomics.wait, so that uploads go on.
    await pause(DRAIN_MS);
  }
  const lengthSamples = chunker.finish();
  const reporting = setInterval(report, DRAIN_MS);
  await uploader.idle().finally(() => clearInterval(reporting));
  report();
  const losses = chunker.losses();
  await seal(take, {
    lengthSamples,
    clockAtStart: chunker.clockAtStart(),
    clockAtCall: start.clockAtCall,
    planChanges,
    gaps: tracks.flatMap(({ id, recorded }) => [
      ...losses.map((loss) => ({ track: id, ...loss, cause: 'ring-overrun' })),
      ...lineGaps.filter((gap) => gap.recorded === recorded).flatMap((gap) => withinTake(id, gap, lengthSamples)),
    ]),
  });
  say({
    type: 'sealed',
    lengthSamples,
    lostSamples: losses.reduce((sum, loss) => sum + loss.lengthSamples, 0),
  });
}

/** A line's gap as far as the take goes. */
function withinTake(track: string, { atSample, endSample, cause }: LineGap, length: number) {
  const end = Math.min(endSample ?? length, length);
  return end > atSample ? [{ track, atSample, lengthSamples: end - atSample, cause }] : [];
}

/** Frames stored without a hole from the beginning. */
function safeFrames(chunks: Map<number, number>): number {
  let index = 0;
  while (chunks.get(index) === CHUNK_FRAMES) index++;
  return index * CHUNK_FRAMES + (chunks.get(index) ?? 0);
}

async function seal(take: string, body: object): Promise<void> {
  for (let tries = 0; ; tries++) {
    const response = await fetch(`/api/takes/${take}/seal`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    }).catch(() => null);
    if (response?.ok) return;
    if (response && response.status < 500) {
      const { message } = (await response.json()) as { message: string };
      throw new Error(message);
    }
    await pause(Math.min(LONGEST_PAUSE_MS, 500 * 2 ** tries));
  }
}
