import { createJournalBatch, readJournal, SEGMENT_CHUNKS, segmentOf } from '@/core/takes/journal';
import type { FromRecorder, LineGaps, PlanChanged, RecoverTake, SealKept, StartRecording, TakePaused } from './messages';
import { forgetKept, keepTake, readKept, type KeptTake, type TakeMeta } from './own-disk';
import { RING_BLOCK, RING_BLOCKS, ringReader } from './ring';
import { pause, sealTake } from './seal';
import { createTrackSender } from './track-sender';

/** How often the ring is emptied onto the disk: well within what may be lost. */
const DRAIN_MS = 100;

const say = (message: FromRecorder): void => self.postMessage(message);

let meta: TakeMeta | null = null;
let metaChanged = false;
let sealKept: () => void = () => undefined;

self.onmessage = ({ data }: MessageEvent<StartRecording | PlanChanged | LineGaps | RecoverTake | SealKept | TakePaused>) => {
  switch (data.type) {
    case 'plan-changed':
      meta?.planChanges.push({ atSample: data.atSample, plan: data.plan });
      metaChanged = true;
      return;
    case 'line-gaps':
      if (meta) meta.lineGaps = data.gaps;
      metaChanged = true;
      return;
    case 'paused':
      if (meta) meta.pauses = data.pauses;
      metaChanged = true;
      return;
    case 'seal-kept':
      return sealKept();
    case 'start':
      return void record(data).catch(fail);
    case 'recover':
      return void recover(data.take).catch(fail);
  }
};

const fail = (error: Error): void => say({ type: 'failed', message: error.message });

/**
 * The way of a sample: ring, this browser's own disk, server. No stage lets go before the next has
 * it; without a disk of its own the recorder says so and holds the chunks in memory.
 */
async function record(start: StartRecording): Promise<void> {
  const { take, tracks, clockAtCall } = start;
  const channels = tracks.reduce<number>((sum, track) => sum + track.channels, 0);
  const ring = ringReader(start.ring, channels);
  const sender = createTrackSender(take, tracks);
  const { chunker, uploader } = sender;
  meta = { take, tracks, clockAtCall, clockAtStart: null, planChanges: [], lineGaps: [], pauses: [] };
  let disk: KeptTake | null = await keepTake(take).catch(() => null);
  let keptFrames = 0;
  const batch = createJournalBatch(channels, RING_BLOCK, RING_BLOCKS);
  const report = (): void =>
    say({ type: 'progress', capturedFrames: chunker.captured(), keptFrames: disk ? keptFrames : null, safeFrames: sender.safeFrames(), waiting: sender.waiting() });

  /** Writes what was drained; a disk that fails is given up, and said so. */
  const keep = async (writes: { segment: number; bytes: Uint8Array<ArrayBuffer> }[]): Promise<void> => {
    if (!disk || !meta) return;
    try {
      if (meta.clockAtStart === null && chunker.clockAtStart() >= 0) {
        meta.clockAtStart = chunker.clockAtStart();
        metaChanged = true;
      }
      if (metaChanged) await disk.writeMeta(meta);
      metaChanged = false;
      for (const { segment, bytes } of writes) await disk.append(segment, bytes);
      keptFrames = chunker.captured();
      await disk.release(sender.safeSegments());
    } catch {
      disk = null;
    }
  };

  while (!ring.ended()) {
    const writes: { segment: number; bytes: Uint8Array<ArrayBuffer> }[] = [];
    let segment = -1;
    ring.drain((position, block) => {
      chunker.push(position, block, RING_BLOCK);
      const now = segmentOf(position - chunker.clockAtStart());
      if (segment >= 0 && now !== segment) writes.push({ segment, bytes: batch.take().slice() });
      segment = now;
      batch.add(position, block);
    });
    if (segment >= 0) writes.push({ segment, bytes: batch.take() });
    await keep(writes);
    report();
    // Waiting by turns of the event loop rather than in Atomics.wait, so that uploads go on.
    await pause(DRAIN_MS);
  }
  const lengthSamples = chunker.finish();
  const reporting = setInterval(report, DRAIN_MS);
  await uploader.idle().finally(() => clearInterval(reporting));
  report();
  meta.clockAtStart = chunker.clockAtStart();
  const losses = chunker.losses();
  await sealTake(meta, lengthSamples, losses);
  // Everything is committed on the server: only now this computer lets go.
  await disk?.remove().catch(() => undefined);
  say({ type: 'sealed', lengthSamples, lostSamples: losses.reduce((sum, loss) => sum + loss.lengthSamples, 0) });
}

/** Sends what an earlier recorder left here, and seals the take when asked to. */
async function recover(take: string): Promise<void> {
  const kept = await readKept(take);
  if (!kept) throw new Error('What was kept on this computer cannot be read.');
  const { tracks, clockAtStart } = kept.meta;
  const channels = tracks.reduce<number>((sum, track) => sum + track.channels, 0);
  const { chunker, uploader } = createTrackSender(take, tracks, { clockAtStart: clockAtStart!, index: kept.segments[0].segment * SEGMENT_CHUNKS });
  for (const { read } of kept.segments) {
    readJournal(await read(), channels, RING_BLOCK, (position, block) => chunker.push(position, block, RING_BLOCK));
    // One segment in memory at a time.
    await uploader.idle();
  }
  const lengthSamples = chunker.finish();
  await uploader.idle();
  const asked = new Promise<void>((resolve) => {
    sealKept = resolve;
  });
  say({ type: 'recovered', lengthSamples });
  await asked;
  const losses = chunker.losses();
  await sealTake(kept.meta, lengthSamples, losses);
  await forgetKept(take);
  say({ type: 'sealed', lengthSamples, lostSamples: losses.reduce((sum, loss) => sum + loss.lengthSamples, 0) });
}
