import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { readJournal, recordBytes, SEGMENT_FRAMES, segmentOf } from '@/core/takes/journal';
import { allLosses } from '@/core/takes/losses';
import type { ContinueKept, FromRecorder, LineGaps, PlanChanged, RecordedTrack, RecoverTake, SealKept, StartRecording, TakePaused } from './messages';
import { startKeeper } from './keeper';
import type { TakeMeta } from './kept-files';
import { forgetKept, keepTake, type KeptTake } from './own-disk';
import { readKept } from './read-kept';
import { RING_BLOCK } from './ring';
import { pause } from '../pause';
import { sealTake } from './seal';
import { createTrackSender, type SendingWay, type TrackSender } from './track-sender';

/** How often the page hears how far it is. */
const REPORT_MS = 100;

const say = (message: FromRecorder): void => self.postMessage(message);

let meta: TakeMeta | null = null;
let metaChanged = false;
let decide: (decision: SealKept | ContinueKept) => void = () => undefined;

self.onmessage = ({ data }: MessageEvent<StartRecording | PlanChanged | LineGaps | RecoverTake | SealKept | ContinueKept | TakePaused>) => {
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
    case 'continue-kept':
      return decide(data);
    case 'start':
      return void record(data).catch(fail);
    case 'recover':
      return void recover(data.take).catch(fail);
  }
};

const fail = (error: Error): void => say({ type: 'failed', message: error.message });

async function record({ take, tracks, clockAtCall, ring }: StartRecording): Promise<void> {
  meta = { take, tracks, clockAtCall, clockAtStart: null, planChanges: [], lineGaps: [], pauses: [], leftAt: [], losses: [] };
  const disk = await keepTake(take).catch(() => null);
  // Whatever is kept later can be read only with this.
  await disk?.writeMeta(meta).catch(() => undefined);
  const segments = new Set<number>();
  await capture(ring, createTrackSender(take, tracks, undefined, wayOf(disk, segments)), { disk, segments }, null);
}

/** Sends what an earlier recorder left here; then seals the take or goes on with it, as the host decides. */
async function recover(take: string): Promise<void> {
  const kept = await readKept(take);
  if (!kept) throw new Error('What was kept on this computer cannot be read.');
  meta = { ...kept.meta, leftAt: kept.meta.leftAt ?? [], losses: kept.meta.losses ?? [] };
  const { tracks, clockAtStart } = meta;
  const channels = channelsOf(tracks);
  const disk = await keepTake(take).catch(() => null);
  const segments = new Set(kept.segments.map(({ segment }) => segment));
  const from = { clockAtStart: clockAtStart!, index: (kept.segments[0].segment * SEGMENT_FRAMES) / CHUNK_FRAMES };
  const sender = createTrackSender(take, tracks, from, wayOf(disk, segments));
  const { chunker, uploader } = sender;
  for (const { read } of kept.segments) {
    readJournal(await read(), channels, RING_BLOCK, (position, block) => chunker.push(position, block, RING_BLOCK));
    // One segment in memory at a time.
    await uploader.idle();
  }
  // A crash may have cut the last record off; what follows must begin where a record may. The very last was only opened ahead.
  for (const { segment } of kept.segments.slice(-2)) await disk?.trim(segment, recordBytes(channels, RING_BLOCK)).catch(() => undefined);
  const decided = new Promise<SealKept | ContinueKept>((resolve) => {
    decide = resolve;
  });
  // Noted before the take can go on: whoever finds it after another crash knows why something is missing here.
  meta.leftAt.push(chunker.captured());
  await disk?.writeMeta(meta).catch(() => undefined);
  const { lineGaps, pauses } = meta;
  say({ type: 'recovered', lengthSamples: chunker.captured(), tracks, lineGaps, pauses, time: kept.time });
  const decision = await decided;
  if (decision.type === 'continue-kept') return capture(decision.ring, sender, { disk, segments }, decision.atSample);
  const lengthSamples = chunker.finish();
  await uploader.idle();
  await seal(sender, lengthSamples, () => forgetKept(take));
}

/** What this computer's disk has of the take: how to reach it, and which segments there must be. */
interface Kept {
  disk: KeptTake | null;
  segments: Set<number>;
}

function wayOf(disk: KeptTake | null, segments: ReadonlySet<number>): SendingWay {
  if (!disk) return {};
  const readSegment = async (segment: number): Promise<ArrayBuffer> => {
    const records = await disk.readSegment(segment);
    if (!records && segments.has(segment)) throw new Error('What was kept on this computer is gone: its browser data was cleared.');
    return records ?? new ArrayBuffer(0);
  };
  return { readSegment };
}

const channelsOf = (tracks: readonly RecordedTrack[]): number => tracks.reduce((sum, track) => sum + track.channels, 0);

/**
 * The way of a sample: ring, this browser's own disk, server. No stage lets go before the next has
 * it; without a disk of its own the recorder says so and holds the chunks in memory.
 * @param goOnAt the sample of the take with which a take that was left goes on; null for a take that begins
 */
async function capture(ring: SharedArrayBuffer, sender: TrackSender, { disk, segments }: Kept, goOnAt: number | null): Promise<void> {
  const now = meta!;
  const channels = channelsOf(now.tracks);
  const { chunker, uploader } = sender;
  const before = now.losses;
  let keptFrames: number | null = 0;
  const goOn = goOnAt === null ? null : { atSample: goOnAt, clockAtStart: chunker.clockAtStart() };
  const keeper = startKeeper({ folder: 'takes', take: now.take, channels, ring, goOn }, (records, onDisk) => {
    readJournal(records, channels, RING_BLOCK, (position, block) => {
      chunker.push(position, block, RING_BLOCK);
      segments.add(segmentOf(position - chunker.clockAtStart()));
    });
    keptFrames = onDisk ? chunker.captured() : null;
  });
  const report = (): void => say({ type: 'progress', capturedFrames: chunker.captured(), keptFrames, safeFrames: sender.safeFrames(), waiting: sender.waiting() });
  const note = async (): Promise<void> => {
    const losses = allLosses(before, chunker.losses());
    const clockAtStart = chunker.clockAtStart() < 0 ? null : chunker.clockAtStart();
    if (!metaChanged && losses.length === now.losses.length && clockAtStart === now.clockAtStart) return;
    metaChanged = false;
    Object.assign(now, { losses, clockAtStart });
    await disk?.writeMeta(now);
  };
  await keeper.ready;
  // Until now nothing would be kept: capturing begins when this computer's disk is open.
  if (goOnAt === null) say({ type: 'ready' });
  let capturing = true;
  const ended = keeper.ended.finally(() => (capturing = false));
  while (capturing) {
    await note().catch(() => undefined);
    report();
    keeper.release(sender.safeSegments());
    if (keptFrames !== null) sender.relieve();
    await Promise.race([ended, pause(REPORT_MS)]);
  }
  await ended;
  const lengthSamples = chunker.finish();
  const reporting = setInterval(report, REPORT_MS);
  await uploader.idle().finally(() => clearInterval(reporting));
  report();
  now.clockAtStart = chunker.clockAtStart();
  await seal(sender, lengthSamples, () => disk?.remove());
}

/** Seals the take, lets this computer go of it, and says so: everything is committed on the server then. */
async function seal({ chunker }: TrackSender, lengthSamples: number, letGo: () => Promise<void> | undefined): Promise<void> {
  const losses = allLosses(meta!.losses, chunker.losses());
  await sealTake(meta!, lengthSamples, losses);
  await letGo()?.catch(() => undefined);
  const overruns = losses.filter(({ atSample }) => !meta!.leftAt.includes(atSample));
  say({ type: 'sealed', lengthSamples, lostSamples: overruns.reduce((sum, loss) => sum + loss.lengthSamples, 0) });
}
