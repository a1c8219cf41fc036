import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import type { TakeCheck } from '@/core/checks/take-check';
import { encodeSamples } from '@/core/formats/wav/sample-format';
import { createRandom } from '@/core/random';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { beginTake } from '../takes/begin-take';
import { addLateTracks } from '../takes/late-tracks';
import { receiveChunks } from '../takes/receive-chunks';
import { sealTake } from '../takes/seal-take';
import { demoEpisode, testDatabase } from '../testing/test-database';
import { checkTake } from './check-take';
import { createTakeFollower } from './follow-takes';
import { sayMeasuring } from './kept-measures';

const db = testDatabase();

const LATE_AT = 2.5 * CHUNK_FRAMES;

/** Somebody who speaks for a second and is quiet for one, over a little noise, now and then too loud. */
function said(seed: number, frames: number): Float32Array {
  const random = createRandom(seed);
  return Float32Array.from({ length: frames }, (_, i) => Math.max(-1, Math.min(1, random.normal() * (i % 96_000 < 48_000 ? 0.3 : 0.001))));
}

/** A take of a voice, sounds in stereo and, from its third chunk on, a voice that came late. */
async function newTake() {
  const { take, tracks } = await beginTake(db.pool(), await demoEpisode(db.pool()), [
    { kind: 'voice', recorded: 'voice:maren', name: 'Maren Sollis', channels: 1, format: 'pcm24' },
    { kind: 'sounds', recorded: 'sounds', name: 'Sounds', channels: 2, format: 'float32' },
  ]);
  const late = crypto.randomUUID();
  await addLateTracks(db.pool(), take, [{ id: late, kind: 'voice', recorded: 'voice:odalys', name: 'Odalys Reed', channels: 1, format: 'pcm16', fromSample: LATE_AT }]);
  const shapes = new Map([
    [tracks[0], { format: 'pcm24' as const, channels: 1 }],
    [tracks[1], { format: 'float32' as const, channels: 2 }],
    [late, { format: 'pcm16' as const, channels: 1 }],
  ]);
  const send = async (track: string, index: number, frames = CHUNK_FRAMES): Promise<void> => {
    const { format, channels } = shapes.get(track)!;
    const sound = Array.from({ length: channels }, (_, k) => said(100 * index + 10 * k + [...shapes.keys()].indexOf(track), frames));
    const samples = encodeSamples(format, sound, 0, frames);
    await receiveChunks(db.pool(), take, [{ track, index, sha256: createHash('sha256').update(samples).digest('hex'), samples }]);
  };
  return { take, voice: tracks[0], sounds: tracks[1], late, send };
}

const seal = (take: string) => sealTake(db.pool(), { take, lengthSamples: null, clockAtStart: 0, clockAtCall: null, gaps: [] });
const check = (take: string, progress: (share: number) => Promise<void> = () => Promise.resolve()): Promise<TakeCheck> =>
  checkTake({ pool: db.pool(), task: '', take, show: () => Promise.resolve(), progress });
const forget = (take: string) => db.pool().query('delete from track_measure using track where track.id = track_id and take_id = $1', [take]);
const kept = async (take: string): Promise<number> => (await db.pool().query('select 1 from track_measure join track on track.id = track_id where take_id = $1', [take])).rowCount!;

describe('a take that is recorded', () => {
  it('is measured as it comes, in whatever order, and to the bit as it would be afterwards', async () => {
    const { take, voice, sounds, late, send } = await newTake();
    const follower = createTakeFollower(db.pool(), 'follower');
    await send(voice, 0);
    await follower.look();
    await send(voice, 2);
    await send(sounds, 0);
    await follower.look();
    await send(voice, 1);
    for (const index of [1, 2]) await send(sounds, index);
    await send(late, 2);
    await follower.look();
    // One chunk of the voice never comes, and the last of all is short.
    for (const track of [voice, sounds, late]) await send(track, 4, 50_000);
    await send(sounds, 3);
    await send(late, 3);
    await follower.look();
    await seal(take);
    expect(await kept(take)).toBe(0);
    await follower.look();
    expect(await kept(take)).toBe(3);
    const beside = await check(take);
    await forget(take);
    const afterwards = await check(take);
    expect(afterwards.tracks.map(({ lengthSamples }) => lengthSamples)).toEqual(Array<number>(3).fill(4 * CHUNK_FRAMES + 50_000));
    expect(afterwards.tracks[0]).toMatchObject({ clippedRuns: expect.any(Number) as number, noiseFloorDb: expect.any(Number) as number });
    expect(beside).toEqual(afterwards);
    // What a check has measured by itself is kept as well.
    expect(await kept(take)).toBe(3);
    expect(await check(take)).toEqual(afterwards);
  });

  it('is measured by one worker at a time; another goes on when that one falls silent', async () => {
    const { take, voice, send } = await newTake();
    const [first, second] = ['first', 'second'].map((name) => createTakeFollower(db.pool(), name));
    const who = async () => (await db.pool().query<{ worker: string }>('select worker from take_measuring where take_id = $1', [take])).rows[0]?.worker;
    await send(voice, 0);
    await first.look();
    await second.look();
    expect(await who()).toBe('first');
    await db.pool().query(`update take_measuring set heard_at = now() - interval '16 seconds'`);
    await second.look();
    expect(await who()).toBe('second');
    await seal(take);
    await first.look();
    expect(await kept(take)).toBe(0);
    await second.look();
    expect(await kept(take)).toBe(3);
    expect(await who()).toBeUndefined();
  });

  it('is let go when nothing comes any more, and may be removed', async () => {
    const [quiet, removed] = [await newTake(), await newTake()];
    let clock = 0;
    const follower = createTakeFollower(db.pool(), 'follower', () => clock);
    await Promise.all([quiet, removed].map(({ voice, send }) => send(voice, 0)));
    await follower.look();
    await db.pool().query('delete from take where id = $1', [removed.take]);
    await db.pool().query(`update chunk set received_at = now() - interval '2 hours' where track_id = $1`, [quiet.voice]);
    clock += 3_700_000;
    await follower.look();
    const { rowCount } = await db.pool().query('select 1 from take_measuring');
    expect(rowCount).toBe(0);
    await seal(quiet.take);
    expect((await check(quiet.take)).tracks[0].peakDb).toBeGreaterThan(-10);
  });
});

describe('a check', () => {
  it('waits for whoever has measured the take until then, and for nobody who is gone', async () => {
    const { take, voice, send } = await newTake();
    await send(voice, 0);
    const follower = createTakeFollower(db.pool(), 'follower');
    await follower.look();
    await seal(take);
    let waited = 0;
    const found = await check(take, async () => {
      // The first word while it waits: now the other one finishes.
      if (waited++ === 0) await follower.look();
    });
    expect(waited).toBeGreaterThan(0);
    await forget(take);
    await sayMeasuring(db.pool(), take, 'gone');
    await db.pool().query(`update take_measuring set heard_at = now() - interval '16 seconds'`);
    expect(await check(take)).toEqual(found);
  });
});
