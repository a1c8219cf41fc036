import { MOST_SEATS } from '@/core/limits';
import { describe, expect, it } from 'vitest';
import { withSeats } from '@/core/hearing/seats';
import { setStrip } from '@/core/hearing/edit';
import { voiceOf } from '@/core/hearing/ids';
import { withInsert } from '@/core/strip/settings';
import { findPlan, listSeats, storePlan } from '../episodes/queries';
import { loadDesk } from '../episodes/load-desk';
import { insertEpisode, insertShow } from '../shows/queries';
import { beginTake } from '../takes/begin-take';
import { loadTake } from '../takes/load-take';
import { insertLineReports, listLineReports } from '../takes/line-reports';
import { sealTake } from '../takes/seal-take';
import { demoAccount, demoEpisode, testDatabase } from '../testing/test-database';
import { calendarEntry, qrCode } from './invitation-forms';
import { addSeat, changeSeat, insertConsent, knownPeople, removeSeat } from './queries';

const db = testDatabase();
const runa = { name: 'Runa', fullName: 'Runa Velde', about: '', reflexive: 'herself', role: 'caller', line: 'link' } as const;

describe('seats', () => {
  it('come and go with the plan following, and a guest by link waits', async () => {
    const episode = await demoEpisode(db.pool());
    const [one, two] = [await addSeat(db.pool(), episode, runa), await addSeat(db.pool(), episode, runa)];
    expect([one.id, two.id]).toEqual(['runa', 'runa-2']);
    const viewer = { account: await demoAccount(db.pool()), role: 'owner' as const };
    const waiting = async () => (await loadDesk(db.pool(), episode, viewer)).plan.waiting;
    // The demo's caller by another program waits too.
    expect(await waiting()).toEqual(['harbour', 'runa', 'runa-2']);
    await removeSeat(db.pool(), episode, 'runa-2');
    expect(await waiting()).toEqual(['harbour', 'runa']);
    await expect(removeSeat(db.pool(), episode, 'maren')).rejects.toMatchObject({ code: 'host-seat' });
    await expect(changeSeat(db.pool(), episode, 'runa', { line: 'practice' })).rejects.toMatchObject({ code: 'no-practice-voice' });
    await changeSeat(db.pool(), episode, 'odalys', { line: 'link' });
    const moved = withSeats((await findPlan(db.pool(), episode)).plan, await listSeats(db.pool(), episode).then((rows) => rows.map(({ id, name, role, line, reflexive }) => ({ id, name, role, line, reflexive }))));
    expect(moved.waiting).toContain('odalys');
    await changeSeat(db.pool(), episode, 'odalys', { line: 'practice' });
  });

  it('of earlier episodes are offered again, the newest first, and nobody who is here', async () => {
    const [first] = (await db.pool().query<{ show_id: string }>('select show_id from episode where id = $1', [await demoEpisode(db.pool())])).rows;
    const episode = async (number: number) => (await db.pool().query<{ id: string }>("insert into episode (show_id, number, title) values ($1, $2, 'Earlier') returning id", [first.show_id, number])).rows[0].id;
    const [older, newer, now] = [await episode(901), await episode(902), await episode(903)];
    for (const name of ['Sanna Lund', 'Wen Talbot']) await addSeat(db.pool(), older, { ...runa, fullName: name });
    for (const name of ['Dara Quist', 'Wen Talbot']) await addSeat(db.pool(), newer, { ...runa, fullName: name });
    await addSeat(db.pool(), now, { ...runa, fullName: 'Dara Quist' });
    expect((await knownPeople(db.pool(), now)).slice(0, 2)).toEqual(['Wen Talbot', 'Sanna Lund']);
    await db.pool().query('delete from episode where id = any($1)', [[older, newer, now]]);
  });

  it('bring what was done to their voice in the show’s newest plan, to the desk and into the next episode', async () => {
    const [{ show_id: show }] = (await db.pool().query<{ show_id: string }>('select show_id from episode where id = $1', [await demoEpisode(db.pool())])).rows;
    const account = { id: await demoAccount(db.pool()), name: 'Maren Sollis', email: 'm@ferry.example' };
    const viewer = { account: account.id, role: 'owner' as const };
    const make = (number: number) => insertEpisode(db.pool(), show, account, { number, title: 'Strips', plannedAt: '2027-03-04T15:30:00Z', plannedMinutes: 30 });
    const first = await make(911);
    const runaSeat = await addSeat(db.pool(), first, runa);
    expect(runaSeat.strip).toBeNull();
    const { plan, planVersion } = await loadDesk(db.pool(), first, viewer);
    const evened = setStrip(setStrip(plan, voiceOf(runaSeat.id), (strip) => withInsert(strip, 'deEsser', { on: true })), voiceOf('maren'), (strip) => withInsert(strip, 'lowCut', { on: true, hz: 95 }));
    await storePlan(db.pool(), first, planVersion, evened);
    const second = await make(912);
    const again = await addSeat(db.pool(), second, runa);
    const stranger = await addSeat(db.pool(), second, { ...runa, fullName: 'Somebody Else' });
    const { plan: next } = await loadDesk(db.pool(), second, viewer);
    expect(next.processing[voiceOf(again.id)]).toEqual(evened.processing[voiceOf(runaSeat.id)]);
    expect(next.processing[voiceOf('maren')]).toEqual(evened.processing[voiceOf('maren')]);
    expect(next.processing[voiceOf(stranger.id)]).toBeUndefined();
    // A plan that was refused keeps nothing; one that takes it off again does.
    await expect(storePlan(db.pool(), first, planVersion, plan)).rejects.toMatchObject({ code: 'plan-changed' });
    expect((await listSeats(db.pool(), first)).find(({ id }) => id === runaSeat.id)!.strip).not.toBeNull();
    await storePlan(db.pool(), first, planVersion + 1, { ...evened, processing: {} });
    expect((await listSeats(db.pool(), first)).every(({ strip }) => strip === null)).toBe(true);
    await db.pool().query('delete from episode where id = any($1)', [[first, second]]);
  });

  it('are limited to what a desk has room for', async () => {
    const episode = await demoEpisode(db.pool());
    const adding = async () => {
      for (;;) await addSeat(db.pool(), episode, runa);
    };
    await expect(adding()).rejects.toMatchObject({ code: 'desk-full' });
    expect(await listSeats(db.pool(), episode)).toHaveLength(MOST_SEATS);
    await db.pool().query("delete from seat where id like 'runa-%'");
  });
});

describe('an episode', () => {
  it('begins with the host and the pads of the newest one; the first of a show with its maker', async () => {
    const maker = { id: await demoAccount(db.pool()), name: 'Maren Sollis', email: 'm@ferry.example' };
    const { rows } = await db.pool().query<{ id: string }>('select id from show');
    const planned = { number: 15, title: 'The next one', plannedAt: '2027-03-04T15:30:00Z', plannedMinutes: 45 };
    const next = await insertEpisode(db.pool(), rows[0].id, maker, planned);
    const viewer = { account: maker.id, role: 'owner' as const };
    const desk = await loadDesk(db.pool(), next, viewer);
    expect(desk.seats.map(({ name }) => name)).toEqual(['Maren']);
    expect(desk.pads).toHaveLength(4);
    expect(desk.episode.plannedAt).toBe('2027-03-04T15:30:00.000Z');
    await expect(insertEpisode(db.pool(), rows[0].id, maker, planned)).rejects.toMatchObject({ code: 'number-taken' });
    const show = await insertShow(db.pool(), maker, 'Ferry Weather');
    const first = await loadDesk(db.pool(), await insertEpisode(db.pool(), show, maker, planned), viewer);
    expect(first.seats).toMatchObject([{ role: 'host', fullName: 'Maren Sollis' }]);
  });
});

describe('an invitation', () => {
  const episode = { id: crypto.randomUUID(), title: 'Rope, chain; and a comma', number: 15, show: 'Ferry Weather', planned_at: new Date('2027-03-04T15:30:00Z'), planned_minutes: 45 };
  const link = `https://desk.example/join/${'a'.repeat(43)}`;

  it('comes as a calendar entry with date and link (RFC 5545)', () => {
    const text = calendarEntry({ episode, seat: 'runa', link, host: 'Maren Sollis' })!;
    const unfolded = text.replace(/\r\n[ \t]/g, '');
    for (const line of ['BEGIN:VCALENDAR', 'DTSTART:20270304T153000Z', 'DURATION:PT45M', `URL:${link}`, 'END:VCALENDAR']) expect(unfolded).toContain(line);
    expect(unfolded).toContain('SUMMARY:Ferry Weather 15: Rope\\, chain\\; and a comma');
    expect(text.split('\r\n').every((line) => line.length <= 75)).toBe(true);
    expect(calendarEntry({ episode: { ...episode, planned_at: null }, seat: 'runa', link, host: 'M' })).toBeNull();
  });

  it('comes as a picture to scan', () => expect(qrCode(link)).toMatch(/^<svg [^]*<\/svg>$/));
});

describe('a take with guests', () => {
  it('keeps who agreed to what, also of those who come during it, and how the lines were', async () => {
    const episode = await demoEpisode(db.pool());
    await insertConsent(db.pool(), episode, { seat: 'runa', name: 'Runa V.', wording: 'First words' });
    await insertConsent(db.pool(), episode, { seat: 'runa', name: 'Runa Velde', wording: 'I agree' });
    const { take, tracks } = await beginTake(db.pool(), episode, [{ kind: 'voice', recorded: 'voice:runa', name: 'Runa Velde', channels: 1, format: 'pcm24' }]);
    await insertConsent(db.pool(), episode, { seat: 'odalys', name: 'Odalys', wording: 'Me too' });
    const direction = { delayMs: 40, bufferMs: 20, lossShare: 0, jitterMs: 1, concealedMs: 0, kbps: 96 };
    const report = { seat: 'runa', atSample: 48000, report: { roundTripMs: 40, toDesk: direction, toGuest: null } };
    await insertLineReports(db.pool(), take, [report]);
    await insertLineReports(db.pool(), take, [report]);
    expect(await listLineReports(db.pool(), take)).toEqual([report]);
    await sealTake(db.pool(), { take, lengthSamples: null, clockAtStart: null, clockAtCall: null, gaps: [{ track: tracks[0], atSample: 0, lengthSamples: 10, cause: 'not-in-call' }] });
    const loaded = await loadTake(db.pool(), take);
    expect(loaded.consents.map(({ name, wording }) => [name, wording])).toEqual([['Runa Velde', 'I agree'], ['Odalys', 'Me too']]);
    expect(loaded.gaps).toMatchObject([{ cause: 'not-in-call' }]);
  });
});
