import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { readJournal, recordBytes, SEGMENT_FRAMES, segmentOf } from '@/core/takes/journal';
import { allLosses } from '@/core/takes/losses';
import { LOGGED, statusBoard } from '../worklet/status-board';
import { createLogReader } from '../worklet/take-log';
import type { Problem } from './answer';
import { followLog, type LogFollower } from './follow-log';
import { startKeeper } from './keeper';
import { channelsOf } from './kept-chunks';
import type { TakeMeta } from './kept-files';
import { announceTracks } from './late-tracks';
import type { BoardMemory, ContinueKept, FromRecorder, MoreTracks, SealKept, StartRecording, ToRecorder } from './messages';
import { forgetKept, keepTake, type KeptTake } from './own-disk';
import { readKept } from './read-kept';
import { RING_BLOCK } from './ring';
import { turnsUntil } from '../pause';
import { sealTake } from './seal';
import { betweenTries } from './send-until-taken';
import { createTakeLogSender } from './take-log-sender';
import { createTrackSender, type SendingWay, type TrackSender } from './track-sender';

/** How often the page hears how far it is. */
const REPORT_MS = 100;

const say = (message: FromRecorder): void => self.postMessage(message);

let meta: TakeMeta | null = null;
let metaChanged = false;
let problem: Problem | null = null;
let follower: LogFollower | null = null;
let decide: (decision: SealKept | ContinueKept) => void = () => undefined;
/** Tracks that were to be added before capturing began. */
const early: MoreTracks[] = [];
let addTracks: (more: MoreTracks) => void = (more) => void early.push(more);

self.onmessage = ({ data }: MessageEvent<ToRecorder>) => {
  switch (data.type) {
    case 'plan':
      return follower?.plan(data);
    case 'line-gaps':
      if (meta) meta.lineGaps = data.gaps;
      metaChanged = true;
      return;
    case 'try-again':
      return betweenTries.wake();
    case 'more-tracks':
      return addTracks(data);
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

const follow = ({ status, sources, listeners }: BoardMemory): LogFollower => followLog(createLogReader(statusBoard(status, sources, listeners), LOGGED), meta!);

async function record({ take, tracks, clockAtCall, leftOut, ring, board }: StartRecording): Promise<void> {
  meta = { take, tracks: [...tracks], parts: [tracks.length], clockAtCall, clockAtStart: 0, sessionClock: null, planChanges: [], plansSent: 0, lineGaps: [], pauses: [], leftOut, leftAt: [], losses: [] };
  follower = follow(board);
  const disk = await keepTake(take).catch(() => null);
  // Whatever is kept later can be read only with this.
  await disk?.writeMeta(meta).catch(() => undefined);
  const segments = new Set<string>();
  const sender = createTrackSender(take, tracks, { clockAtStart: 0, index: 0 }, { parts: meta.parts, ...wayOf(disk, segments) });
  await capture(ring, sender, { disk, segments }, 0);
}

/** Sends what an earlier recorder left here; then seals the take or goes on with it, as the host decides. */
async function recover(take: string): Promise<void> {
  const kept = await readKept(take);
  if (!kept) throw new Error('What was kept on this computer cannot be read.');
  const { meta: before } = kept;
  // An earlier version noted less.
  meta = { ...before, parts: before.parts ?? [before.tracks.length], sessionClock: before.sessionClock ?? before.clockAtStart, plansSent: before.plansSent ?? 0, leftOut: before.leftOut ?? [], leftAt: before.leftAt ?? [], losses: before.losses ?? [] };
  const { tracks, parts, clockAtStart } = meta;
  const disk = await keepTake(take).catch(() => null);
  const segments = new Set(kept.segments.map(({ segment, part }) => keyOf(segment, part)));
  let [{ part }] = kept.segments;
  const from = { clockAtStart: clockAtStart!, index: (kept.segments[0].segment * SEGMENT_FRAMES) / CHUNK_FRAMES };
  const sender = createTrackSender(take, tracks.slice(0, parts[part]), from, { parts: parts.slice(0, part + 1), ...wayOf(disk, segments) });
  const { chunker, uploader } = sender;
  await announceTracks(take, tracks.slice(0, parts[part]), noteProblem);
  const goOnTo = (next: number): void => {
    for (; part < next; part++) addTo(sender, part + 1);
  };
  for (const { part: of, read } of kept.segments) {
    goOnTo(of);
    readJournal(await read(), channelsOf(tracks.slice(0, parts[of])), RING_BLOCK, (position, block) => chunker.push(position, block, RING_BLOCK));
    // One segment in memory at a time.
    await uploader.idle();
  }
  goOnTo(parts.length - 1);
  // A crash may have cut the last record off; what follows must begin where a record may. The very last was only opened ahead.
  for (const { segment, part: of } of kept.segments.slice(-2)) await disk?.trim(segment, of, recordBytes(channelsOf(tracks.slice(0, parts[of])), RING_BLOCK)).catch(() => undefined);
  const decided = new Promise<SealKept | ContinueKept>((resolve) => {
    decide = (decision) => {
      // Before the audio thread is told to go on: nothing it writes down must be missed.
      if (decision.type === 'continue-kept') follower = follow(decision.board);
      resolve(decision);
    };
  });
  // Noted before the take can go on: whoever finds it after another crash knows why something is missing here.
  meta.leftAt.push(chunker.captured());
  await disk?.writeMeta(meta).catch(() => undefined);
  const { lineGaps, leftOut } = meta;
  say({ type: 'recovered', lengthSamples: chunker.captured(), tracks, lineGaps, leftOut, time: kept.time });
  const decision = await decided;
  if (decision.type === 'continue-kept') return capture(decision.ring, sender, { disk, segments }, chunker.captured());
  const lengthSamples = chunker.finish();
  await uploader.idle();
  await seal(sender, lengthSamples, () => forgetKept(take));
}

/** The tracks that a further part of the recording brings are made from now on. */
function addTo(sender: TrackSender, part: number): void {
  const { take, tracks, parts } = meta!;
  const more = tracks.slice(parts[part - 1], parts[part]);
  for (const { late } of more) if (late) late.fromSample ??= sender.chunker.captured();
  metaChanged = true;
  const announce = async (): Promise<void> => {
    try {
      await announceTracks(take, more, noteProblem);
      say({ type: 'added', recorded: more.map(({ recorded }) => recorded) });
    } catch (error) {
      // The other tracks go on; these are on this computer's disk only, and the host has to know.
      for (const { late } of more) if (late) late.refused = true;
      metaChanged = true;
      say({ type: 'trouble', message: `${more.map(({ late, recorded }) => late?.name ?? recorded).join(', ')}: not recorded. ${(error as Error).message}` });
    }
  };
  sender.addTracks(more, announce);
}

const noteProblem = (now: Problem | null): void => {
  problem = now;
};

/** What this computer's disk has of the take: how to reach it, and which segments there must be. */
interface Kept {
  disk: KeptTake | null;
  segments: Set<string>;
}

const keyOf = (segment: number, part: number): string => `${segment}+${part}`;

function wayOf(disk: KeptTake | null, segments: ReadonlySet<string>): SendingWay {
  if (!disk) return {};
  const readSegment = async (segment: number, part: number): Promise<ArrayBuffer> => {
    const records = await disk.readSegment(segment, part);
    if (!records && segments.has(keyOf(segment, part))) throw new Error('What was kept on this computer is gone: its browser data was cleared.');
    return records ?? new ArrayBuffer(0);
  };
  return { readSegment };
}

/**
 * The way of a sample: ring, this browser's own disk, server. No stage lets go before the next has
 * it; without a disk of its own the recorder says so and holds the chunks in memory.
 * @param nearSample where about the take goes on
 */
async function capture(ring: SharedArrayBuffer, sender: TrackSender, { disk, segments }: Kept, nearSample: number): Promise<void> {
  const now = meta!;
  const { chunker, uploader } = sender;
  const before = now.losses;
  const log = createTakeLogSender(now, () => (metaChanged = true), noteProblem);
  let keptFrames: number | null = nearSample;
  /** Parts of the recording in order, each through a ring of its own; what a later one brings waits for the end of the one before. */
  const rings: { part: number; keeper: ReturnType<typeof startKeeper>; waiting: (() => void)[] | null }[] = [];
  const keep = (memory: SharedArrayBuffer, part: number, near: number): void => {
    const channels = channelsOf(now.tracks.slice(0, now.parts[part]));
    const turn: (typeof rings)[number] = {
      part,
      waiting: rings.length === 0 ? null : [],
      keeper: startKeeper({ folder: 'takes', take: now.take, part, channels, ring: memory, origin: chunker.clockAtStart(), nearSample: near }, (records, onDisk) => {
        const take = (): void => {
          readJournal(records, channels, RING_BLOCK, (position, block) => {
            chunker.push(position, block, RING_BLOCK);
            segments.add(keyOf(segmentOf(position - chunker.clockAtStart()), part));
          });
          keptFrames = onDisk ? chunker.captured() : null;
        };
        if (turn.waiting) turn.waiting.push(take);
        else take();
      }),
    };
    rings.push(turn);
  };
  keep(ring, now.parts.length - 1, nearSample);
  addTracks = ({ tracks, ring: memory }) => {
    now.tracks.push(...tracks);
    now.parts.push(now.tracks.length);
    const part = now.parts.length - 1;
    const begin = async (): Promise<void> => {
      // Whoever finds the new part's sound must know what is in it.
      await disk?.writeMeta(now).catch(() => undefined);
      keep(memory, part, chunker.captured());
      await rings.at(-1)!.keeper.ready;
      say({ type: 'ready' });
    };
    void begin().catch(fail);
  };
  for (const more of early.splice(0)) addTracks(more);
  let troubled = '';
  const report = (): void => {
    say({ type: 'progress', capturedFrames: chunker.captured(), keptFrames, safeFrames: sender.safeFrames(), waiting: sender.waiting() ?? problem });
    const trouble = sender.refused() ?? follower?.missing() ?? '';
    if (trouble !== '' && trouble !== troubled) say({ type: 'trouble', message: trouble });
    troubled = trouble;
  };
  let noting: Promise<void> | null = null;
  /** Writes down what has changed, once at a time. Sound does not wait for it: a disk may take long to open a file, or for ever. */
  const note = (): void => {
    const losses = allLosses(before, chunker.losses());
    if (follower?.read()) metaChanged = true;
    log.poke();
    if (noting || (!metaChanged && losses.length === now.losses.length)) return;
    metaChanged = false;
    Object.assign(now, { losses });
    const written = disk?.writeMeta(now).catch(() => undefined) ?? Promise.resolve();
    noting = written.finally(() => {
      noting = null;
    });
  };
  await rings[0].keeper.ready;
  // Until now nothing would be kept: capturing begins when this computer's disk is open.
  say({ type: 'ready' });
  for (let at = 0; at < rings.length; at++) {
    const { part, keeper, waiting } = rings[at];
    if (waiting) {
      addTo(sender, part);
      rings[at].waiting = null;
      for (const take of waiting) take();
    }
    const { ended, turns } = turnsUntil(keeper.ended);
    while (turns.go()) {
      note();
      report();
      keeper.release(sender.safeSegments());
      if (keptFrames !== null) sender.relieve();
      await turns.rest(REPORT_MS);
    }
    await ended;
  }
  say({ type: 'captured' });
  await noting;
  note();
  await noting;
  const lengthSamples = chunker.finish();
  const reporting = setInterval(report, REPORT_MS);
  await uploader.idle().finally(() => clearInterval(reporting));
  await log.flush();
  report();
  await seal(sender, lengthSamples, () => disk?.remove());
}

/** Seals the take, lets this computer go of it, and says so: everything is committed on the server then. */
async function seal({ chunker }: TrackSender, lengthSamples: number, letGo: () => Promise<void> | undefined): Promise<void> {
  const losses = allLosses(meta!.losses, chunker.losses());
  await createTakeLogSender(meta!, () => undefined, noteProblem).flush();
  await sealTake(meta!, lengthSamples, losses, noteProblem);
  await letGo()?.catch(() => undefined);
  const overruns = losses.filter(({ atSample }) => !meta!.leftAt.includes(atSample));
  say({ type: 'sealed', lengthSamples, lostSamples: overruns.reduce((sum, loss) => sum + loss.lengthSamples, 0) });
}
