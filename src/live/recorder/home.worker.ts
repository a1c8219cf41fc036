import { HOME_CHUNK_FRAMES } from '@/core/takes/chunks';
import type { LostStretch } from '@/core/takes/chunker';
import { readJournal, SEGMENT_FRAMES } from '@/core/takes/journal';
import { allLosses } from '@/core/takes/losses';
import type { FromHomeRecorder, HomeTarget, ToHomeRecorder } from './home-messages';
import { startKeeper } from './keeper';
import { forgetKept, keepTake } from './own-disk';
import { readKept } from './read-kept';
import { RING_BLOCK } from './ring';
import { ANSWER_WITHIN_MS } from '../api';
import { pause, turnsUntil } from '../pause';
import { createTrackSender, type SendingWay } from './track-sender';

/** What is written beside the sound: enough to send it from a page that was opened anew. */
interface HomeMeta extends HomeTarget {
  clockAtStart: number | null;
  /** What was lost before it reached this disk. */
  losses: readonly LostStretch[];
}

/** How often the page hears how far it is. */
const REPORT_MS = 100;
/** How often the server hears how much is kept here. */
const TELL_MS = 5000;
const LONGEST_PAUSE_MS = 8000;
/** More than these are not told one by one. */
const MOST_LOSSES = 1000;

const say = (message: FromHomeRecorder): void => self.postMessage(message);

let rate = Infinity;
let freeAt = 0;

self.onmessage = ({ data }: MessageEvent<ToHomeRecorder>) => {
  switch (data.type) {
    case 'rate':
      rate = data.rate;
      // What was waited for at a slower rate need not be waited for any more.
      if (rate === Infinity) freeAt = 0;
      return;
    case 'start':
      return void alone(data.target.home, () => record(data.target, data.ring)).catch(fail);
    case 'recover':
      return void alone(data.home, () => recover(data.home)).catch(fail);
  }
};

/** Two windows of one guest must not send the same recording: the second waits until the first has let go. */
const alone = (home: string, work: () => Promise<void>): Promise<void> => navigator.locks.request(`brisk-lantern-home-${home}`, work);

const fail = (error: Error): void => say({ type: 'failed', message: error.message });

/** One chunk at a time, each as long after the last as the rate asks for. */
const pace = {
  async before(): Promise<void> {
    while (performance.now() < freeAt) await pause(Math.min(REPORT_MS, freeAt - performance.now()));
  },
  sent(bytes: number, milliseconds: number): void {
    freeAt = performance.now() + Math.max(0, (1000 * bytes) / rate - milliseconds);
  },
};

function senderOf({ home, key }: HomeTarget, readSegment?: SendingWay['readSegment'], from?: { clockAtStart: number; index: number }) {
  const headers = { authorization: `Bearer ${key}` };
  return createTrackSender(home, [{ id: home, recorded: '', channels: 1, format: 'pcm24' }], from, {
    address: ({ index }) => `/api/guest/home/${home}/chunks/${index}`,
    headers,
    atOnce: 1,
    pace,
    chunkFrames: HOME_CHUNK_FRAMES,
    readSegment,
  });
}

/** Tells the server how much is kept, and at the end that all was sent; tried again while it is away. */
async function tell({ home, key }: HomeTarget, keptSamples: number, losses: readonly LostStretch[], ended: boolean): Promise<void> {
  for (let tries = 0; ; tries++) {
    const response = await fetch(`/api/guest/home/${home}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json', authorization: `Bearer ${key}` },
      body: JSON.stringify({ keptSamples, ended, losses: losses.slice(0, MOST_LOSSES) }),
      signal: AbortSignal.timeout(ANSWER_WITHIN_MS),
    }).catch(() => null);
    if (response?.ok || !ended) return;
    if (response && response.status < 500) throw new Error(((await response.json()) as { message: string }).message);
    await pause(Math.min(LONGEST_PAUSE_MS, 500 * 2 ** tries));
  }
}

/** The way of a sample: ring, this browser's own disk, server; no stage lets go before the next has it. */
async function record(target: HomeTarget, ring: SharedArrayBuffer): Promise<void> {
  const disk = await keepTake<HomeMeta>(target.home, 'home').catch(() => null);
  await disk?.writeMeta({ ...target, clockAtStart: null, losses: [] }).catch(() => undefined);
  const sender = senderOf(target, disk ? async (segment) => (await disk.readSegment(segment, 0)) ?? new ArrayBuffer(0) : undefined);
  const { chunker } = sender;
  let kept: number | null = 0;
  const keeper = startKeeper({ folder: 'home', take: target.home, part: 0, channels: 1, ring, origin: 0, nearSample: 0 }, (records, onDisk) => {
    readJournal(records, 1, RING_BLOCK, (position, block) => chunker.push(position, block, RING_BLOCK));
    kept = onDisk ? chunker.captured() : null;
  });
  await keeper.ready;
  say({ type: 'ready' });
  const report = () => say({ type: 'progress', captured: chunker.captured(), kept, sent: sender.safeFrames()[0], waiting: sender.waiting()?.message ?? null });
  /** Losses that are written down; −1 before the clock of the first sample is. */
  let noted = -1;
  let toldAt = 0;
  const { ended, turns } = turnsUntil(keeper.ended);
  while (turns.go()) {
    if (noted !== chunker.losses().length && chunker.clockAtStart() >= 0) {
      noted = chunker.losses().length;
      await disk?.writeMeta({ ...target, clockAtStart: chunker.clockAtStart(), losses: chunker.losses() }).catch(() => undefined);
    }
    report();
    keeper.release(sender.safeSegments());
    if (kept !== null) sender.relieve();
    if (performance.now() - toldAt > TELL_MS) {
      toldAt = performance.now();
      void tell(target, chunker.captured(), chunker.losses(), false);
    }
    await turns.rest(REPORT_MS);
  }
  await ended;
  const length = chunker.finish();
  await tell(target, length, chunker.losses(), false);
  const reporting = setInterval(report, REPORT_MS);
  await sender.uploader.idle().finally(() => clearInterval(reporting));
  report();
  if (length > 0) await tell(target, length, chunker.losses(), true);
  // Everything is committed on the server: only now this computer lets go.
  await disk?.remove().catch(() => undefined);
  say({ type: 'sent' });
}

/** Sends what an earlier page left here. */
async function recover(home: string): Promise<void> {
  const rest = await readKept<HomeMeta>(home, 'home');
  if (!rest) {
    // Nothing but a name: the page went before the first sound was kept.
    await forgetKept(home, 'home');
    return say({ type: 'sent' });
  }
  const { meta, segments } = rest;
  const sender = senderOf(meta, undefined, { clockAtStart: meta.clockAtStart!, index: (segments[0].segment * SEGMENT_FRAMES) / HOME_CHUNK_FRAMES });
  const { chunker, uploader } = sender;
  const report = () => say({ type: 'progress', captured: chunker.captured(), kept: chunker.captured(), sent: sender.safeFrames()[0], waiting: sender.waiting()?.message ?? null });
  const reporting = setInterval(report, REPORT_MS);
  try {
    for (const { read } of segments) {
      readJournal(await read(), 1, RING_BLOCK, (position, block) => chunker.push(position, block, RING_BLOCK));
      await uploader.idle();
    }
    const length = chunker.finish();
    await uploader.idle();
    await tell(meta, length, allLosses(meta.losses ?? [], chunker.losses()), true);
  } finally {
    clearInterval(reporting);
  }
  await forgetKept(home, 'home');
  say({ type: 'sent' });
}
