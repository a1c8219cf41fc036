import { createHash } from 'node:crypto';
import { beforeAll, describe, expect, it } from 'vitest';
import { encodeSamples } from '@/core/formats/wav/sample-format';
import { simulateHomeAndLine } from '@/core/practice/home-and-line';
import { CHUNK_FRAMES, chunkFrames, HOME_CHUNK_FRAMES } from '@/core/takes/chunks';
import { findGuest, issueInvitation, revokeInvitation, type Guest } from '../access/invitations';
import { requireHome } from '../access/who';
import { runTask } from '../jobs/run-task';
import { findTask, insertTask, listTasks } from '../jobs/tasks';
import { createTrackReader } from '../jobs/track-reader';
import { insertConsent, addSeat } from '../seats/queries';
import { beginTake } from '../takes/begin-take';
import { loadTake } from '../takes/load-take';
import { receiveChunks } from '../takes/receive-chunks';
import { findTrack } from '../takes/queries';
import { sealTake } from '../takes/seal-take';
import { demoEpisode, testDatabase } from '../testing/test-database';
import type { HomeRow } from './queries';
import { beginHome, homeReport, placeHomes, receiveHomeChunk } from './receive-home';

const db = testDatabase();
const SECONDS = 30;
const two = simulateHomeAndLine({ seed: 4, seconds: SECONDS, ppm: 35, loss: 0.02 });
const hash = (samples: Uint8Array) => createHash('sha256').update(samples).digest('hex');

/** Two seconds that the guest's browser could not keep: 18 s from its beginning. */
const LOST = { atSample: 18 * 48000, lengthSamples: 2 * 48000 };

let take = '';
let track = '';
let seat = '';
let episode = '';
let guest: Guest;
let home: HomeRow;

beforeAll(async () => {
  episode = await demoEpisode(db.pool());
  ({ id: seat } = await addSeat(db.pool(), episode, { name: 'Ines', fullName: 'Ines Carrow', about: '', reflexive: 'herself', role: 'caller', line: 'link' }));
  guest = await findGuest(db.pool(), (await issueInvitation(db.pool(), episode, seat, 7)).token);
  const begun = await beginTake(db.pool(), episode, [{ kind: 'voice', recorded: `voice:${seat}`, name: 'Ines Carrow', channels: 1, format: 'pcm24' }]);
  take = begun.take;
  [track] = begun.tracks;
});

const bearer = (key: string) => new Headers({ authorization: `Bearer ${key}` });
const piece = (index: number) => encodeSamples('pcm24', [two.home(index * HOME_CHUNK_FRAMES, HOME_CHUNK_FRAMES)], 0, HOME_CHUNK_FRAMES);
const send = (index: number, samples = piece(index)) => receiveHomeChunk(db.pool(), home, index, hash(samples), samples);

describe('a recording at home', () => {
  it('begins only for who agreed and whose line is on a take that runs', async () => {
    await expect(beginHome(db.pool(), guest, take)).rejects.toMatchObject({ status: 409, code: 'not-recorded' });
    await insertConsent(db.pool(), episode, { seat, name: 'Ines Carrow', wording: 'yes' });
    await expect(beginHome(db.pool(), { ...guest, episode: crypto.randomUUID() }, take)).rejects.toMatchObject({ code: 'not-recorded' });
    await expect(beginHome(db.pool(), { ...guest, seat: 'somebody' }, take)).rejects.toMatchObject({ code: 'not-recorded' });
    const begun = await beginHome(db.pool(), guest, take);
    // Its key opens this one recording, and nothing else does; also when the link has ended.
    await revokeInvitation(db.pool(), episode, seat);
    home = await requireHome(db.pool(), bearer(begun.key), begun.home);
    await expect(requireHome(db.pool(), bearer(begun.key), crypto.randomUUID())).rejects.toMatchObject({ status: 404 });
    await expect(requireHome(db.pool(), bearer('a'.repeat(43)), begun.home)).rejects.toMatchObject({ status: 404 });
  });

  it('takes a chunk once, in any order, and refuses what is damaged, too long or another in its place', async () => {
    await send(50);
    await send(50);
    await expect(send(50, piece(51))).rejects.toMatchObject({ status: 409, code: 'chunk-conflict' });
    await expect(receiveHomeChunk(db.pool(), home, 52, hash(piece(51)), piece(52))).rejects.toMatchObject({ status: 422, code: 'checksum' });
    await expect(send(5, new Uint8Array(3 * HOME_CHUNK_FRAMES + 3))).rejects.toMatchObject({ status: 422, code: 'chunk-length' });
    await expect(send(5, new Uint8Array(4))).rejects.toMatchObject({ status: 422, code: 'chunk-length' });
  });

  it('is complete only when all of it is here, and is placed by itself once the take is sealed', async () => {
    // Home begins with the conversation, and its page was away for the last seconds of it.
    const chunks = Math.floor((two.homeSamples - 5 * 48000) / HOME_CHUNK_FRAMES);
    await expect(homeReport(db.pool(), home, { keptSamples: chunks * HOME_CHUNK_FRAMES, ended: true, losses: [LOST] })).rejects.toMatchObject({ status: 409, code: 'chunks-missing' });
    expect((await loadTake(db.pool(), take)).homes).toMatchObject([{ track, complete: false, keptSamples: chunks * HOME_CHUNK_FRAMES, arrivedSamples: HOME_CHUNK_FRAMES }]);
    for (let index = 0; index < chunks; index++) if (index !== 50) await send(index);
    for (let index = 0; index * CHUNK_FRAMES < two.lineSamples; index++) {
      const frames = chunkFrames(two.lineSamples, index);
      const samples = encodeSamples('pcm24', [two.line(index * CHUNK_FRAMES, frames)], 0, frames);
      await receiveChunks(db.pool(), take, [{ track, index, sha256: hash(samples), samples }]);
    }
    await homeReport(db.pool(), home, { keptSamples: chunks * HOME_CHUNK_FRAMES, ended: true, losses: [LOST] });
    expect(await listTasks(db.pool(), take)).toEqual([]);
    await sealTake(db.pool(), { take, lengthSamples: two.lineSamples, clockAtStart: 0, clockAtCall: 0, gaps: [] });
    await placeHomes(db.pool(), take);
    expect(await listTasks(db.pool(), take)).toMatchObject([{ kind: 'home', params: { track } }]);
  });

  it('becomes a home track in step with the line, and the best of both', async () => {
    const [{ id }] = await listTasks(db.pool(), take);
    await runTask(db.pool(), id, 'tester');
    const done = await findTask(db.pool(), take, id);
    expect(done.problem).toBeNull();
    const made = done.result as { parts: { driftPpm: number }[]; better: object[] };
    expect(Math.abs(made.parts[0].driftPpm - 35)).toBeLessThan(3);
    expect(made.better.length).toBeGreaterThan(3);
    const { tracks, gaps } = await loadTake(db.pool(), take);
    const of = async (kind: string) => createTrackReader(db.pool(), await findTrack(db.pool(), take, tracks.find((one) => one.kind === kind)!.id), two.lineSamples).mono(0, two.lineSamples);
    const [line, placed, best] = [await of('voice'), await of('home'), await of('best')];
    const homeTrack = tracks.find(({ kind }) => kind === 'home')!;
    const covered = (at: number) => !gaps.some((gap) => gap.track === homeTrack.id && at >= gap.atSample && at < gap.atSample + gap.lengthSamples);
    let nearest = 0;
    for (let at = 0; at < two.lineSamples; at += 240) {
      const inside = covered(at - 480) && covered(at + 480);
      if (inside) expect(best[at]).toBe(placed[at]);
      else if (!covered(at - 480) && !covered(at + 480)) {
        expect(placed[at]).toBe(0);
        nearest = Math.max(nearest, Math.abs(best[at] - line[at]));
      }
    }
    // The page that was away at the end, and what its browser could not keep: there the line is heard.
    const missing = gaps.filter((gap) => gap.track === homeTrack.id && gap.cause === 'not-at-home');
    expect(missing.some(({ lengthSamples }) => Math.abs(lengthSamples - LOST.lengthSamples) < 480)).toBe(true);
    expect(missing.some(({ atSample, lengthSamples }) => atSample + lengthSamples === two.lineSamples)).toBe(true);
    // The line is brought to the level of the home recording, which is nearly its own.
    expect(nearest).toBeLessThan(0.03);
    // It sounds as it was spoken, at the delay the line usually has.
    const middle = 12 * 48000;
    const delays = [0, ...two.jumps].map((jump) => two.delayAt(jump));
    const rest = (delay: number) => {
      const spoken = two.home(Math.round(two.spokenAt(middle - delay)), 4800);
      return spoken.reduce((sum, sample, i) => sum + (sample - placed[middle + i]) ** 2, 0) / spoken.reduce((sum, sample) => sum + sample ** 2, 0);
    };
    expect(Math.min(...delays.map(rest))).toBeLessThan(0.05);
  });

  it('ends with its link, its take and its deadline, and never says it is longer than it was open', async () => {
    const begin = async () => {
      const begun = await beginTake(db.pool(), episode, [{ kind: 'voice', recorded: `voice:${seat}`, name: 'Ines Carrow', channels: 1, format: 'pcm24' }]);
      const { home: id, key } = await beginHome(db.pool(), guest, begun.take);
      const now = () => requireHome(db.pool(), bearer(key), id);
      return { take: begun.take, now, send: async (index: number) => receiveHomeChunk(db.pool(), await now(), index, hash(piece(index % 20)), piece(index % 20)) };
    };
    const long = await begin();
    await long.send(0);
    await expect(long.send(200)).rejects.toMatchObject({ status: 409, code: 'home-too-long' });
    await homeReport(db.pool(), await long.now(), { keptSamples: 2 ** 40, ended: false, losses: [] });
    expect((await loadTake(db.pool(), long.take)).homes[0].keptSamples).toBeLessThan(48_000 * 60);
    // Revoked half a minute after it began: what was captured until then may still come, an hour later.
    await db.pool().query("update home_recording set began_at = now() - interval '1 hour', closed_at = now() - interval '59 minutes' where take_id = $1", [long.take]);
    await long.send(80);
    await expect(long.send(2000)).rejects.toMatchObject({ code: 'home-too-long' });

    const late = await begin();
    await late.send(0);
    await sealTake(db.pool(), { take: late.take, lengthSamples: null, clockAtStart: 0, clockAtCall: 0, gaps: [] });
    await late.send(1);
    await db.pool().query("update take set sealed_at = now() - interval '8 days' where id = $1", [late.take]);
    await expect(late.send(2)).rejects.toMatchObject({ status: 410, code: 'home-too-late' });
    await db.pool().query('update take set binned_at = now() where id = $1', [late.take]);
    await expect(late.send(2)).rejects.toMatchObject({ status: 410, code: 'take-binned' });
  });

  it('fills no more of the disk than the operator allows, and says so to whoever would begin another', async () => {
    const begun = await beginTake(db.pool(), episode, [{ kind: 'voice', recorded: `voice:${seat}`, name: 'Ines Carrow', channels: 1, format: 'pcm24' }]);
    const { home: id, key } = await beginHome(db.pool(), guest, begun.take);
    const one = await requireHome(db.pool(), bearer(key), id);
    process.env.HOME_GIB_PER_SEAT = String(50_000 / 2 ** 30);
    try {
      await receiveHomeChunk(db.pool(), one, 0, hash(piece(0)), piece(0));
      await receiveHomeChunk(db.pool(), one, 1, hash(piece(1)), piece(1));
      await expect(receiveHomeChunk(db.pool(), one, 64, hash(piece(2)), piece(2))).rejects.toMatchObject({ status: 507, code: 'home-full' });
      await expect(beginHome(db.pool(), guest, begun.take)).rejects.toMatchObject({ status: 507, code: 'home-full' });
    } finally {
      delete process.env.HOME_GIB_PER_SEAT;
    }
    await beginHome(db.pool(), guest, begun.take);
  });

  it('that has nothing in common with the line is not placed, and says so', async () => {
    const other = await beginTake(db.pool(), episode, [{ kind: 'voice', recorded: `voice:${seat}`, name: 'Ines Carrow', channels: 1, format: 'pcm24' }]);
    await sealTake(db.pool(), { take: other.take, lengthSamples: null, clockAtStart: 0, clockAtCall: 0, gaps: [] });
    const id = await insertTask(db.pool(), other.take, { kind: 'home', params: { track: other.tracks[0] } });
    await runTask(db.pool(), id, 'tester');
    expect(await findTask(db.pool(), other.take, id)).toMatchObject({ state: 'failed', problem: 'Nothing was recorded at Ines Carrow’s own end.' });
  });
});

