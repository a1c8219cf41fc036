import { describe, expect, it } from 'vitest';
import { demoAccount, demoEpisode, testDatabase } from '../testing/test-database';
import { addSeat } from '../seats/queries';
import { countAttempt } from './attempts';
import { anyAccount, changeRole, deleteAccount, findAccount, findPasswordHash, insertAccount, removeMember, roleIn, setMember } from './accounts';
import { findGuest, issueInvitation, revokeInvitation } from './invitations';
import { hashPassword, passwordIs } from './passwords';
import { beginSignIn, endAllSignIns, findSignedIn, signInCookie, signInToken } from './sign-ins';

const db = testDatabase();

async function invited(days = 7) {
  const episode = await demoEpisode(db.pool());
  const seat = await addSeat(db.pool(), episode, { name: 'Runa', fullName: 'Runa Velde', about: '', reflexive: 'herself', role: 'caller', line: 'link' });
  return { episode, seat: seat.id, ...(await issueInvitation(db.pool(), episode, seat.id, days)) };
}

describe('a guest’s link', () => {
  it('stands for one seat, is unguessable and stored only as a hash', async () => {
    const { token, seat, episode } = await invited();
    expect(Buffer.from(token, 'base64url')).toHaveLength(32);
    expect(await findGuest(db.pool(), token)).toMatchObject({ seat, episode, fullName: 'Runa Velde' });
    const { rows } = await db.pool().query<{ found: string }>("select count(*) as found from invitation where encode(token_hash, 'escape') like $1", [`%${token}%`]);
    expect(rows[0].found).toBe('0');
  });

  it.each(['', 'x', 'a'.repeat(43), "' or true --".padEnd(43, 'a')])('that is wrong (%j) is unknown', async (token) => {
    await expect(findGuest(db.pool(), token)).rejects.toMatchObject({ status: 401, code: 'link-unknown' });
  });

  it('stops when it is revoked or another is made, and when it runs out', async () => {
    const first = await invited();
    const second = await issueInvitation(db.pool(), first.episode, first.seat, 7);
    await expect(findGuest(db.pool(), first.token)).rejects.toMatchObject({ status: 410, code: 'link-revoked' });
    await db.pool().query("update invitation set expires_at = now() - interval '1 second' where seat_id = $1 and revoked_at is null", [first.seat]);
    await expect(findGuest(db.pool(), second.token)).rejects.toMatchObject({ status: 410, code: 'link-expired' });
    // Whoever is in by it stays in.
    await db.pool().query('insert into open_window (episode_id, party, window_id, stream_id) values ($1, $2, gen_random_uuid(), gen_random_uuid())', [first.episode, first.seat]);
    expect(await findGuest(db.pool(), second.token)).toMatchObject({ seat: first.seat });
    expect(await revokeInvitation(db.pool(), first.episode, first.seat)).toBe(true);
    await expect(findGuest(db.pool(), second.token)).rejects.toMatchObject({ code: 'link-revoked' });
  });

  it('is made for a seat on a link only', async () => {
    const episode = await demoEpisode(db.pool());
    await expect(issueInvitation(db.pool(), episode, 'odalys', 7)).rejects.toMatchObject({ code: 'no-link-line' });
    await expect(issueInvitation(db.pool(), episode, 'nobody', 7)).rejects.toMatchObject({ status: 404 });
  });
});

describe('signing in', () => {
  it('checks a password by argon2id, and takes as long for nobody', async () => {
    const hash = await hashPassword('a river and a rope');
    expect(hash).toMatch(/^\$argon2id\$v=19\$m=65536,t=3,p=1\$/);
    expect(await passwordIs(hash, 'a river and a rope')).toBe(true);
    expect(await passwordIs(hash, 'a river and a robe')).toBe(false);
    expect(await passwordIs(null, 'nobody has this account')).toBe(false);
  });

  it('lasts in its browser until it is ended, everywhere at once', async () => {
    const account = await demoAccount(db.pool());
    const [one, two] = [await beginSignIn(db.pool(), account), await beginSignIn(db.pool(), account)];
    expect(await findSignedIn(db.pool(), one)).toMatchObject({ id: account });
    expect(await endAllSignIns(db.pool(), account)).toBeGreaterThanOrEqual(2);
    for (const token of [one, two, '', 'x']) expect(await findSignedIn(db.pool(), token)).toBeNull();
  });

  it('is kept in a cookie that no script reads and no other site sends', () => {
    const cookie = signInCookie('token', true);
    for (const part of ['HttpOnly', 'SameSite=Lax', 'Secure', 'Path=/']) expect(cookie).toContain(part);
    expect(signInToken(`theme=day; ${cookie.split(';')[0]}`)).toBe('token');
  });

  it('does not take the demo’s host for an account: without a password nobody can sign in to it', async () => {
    await db.pool().query('delete from account where password_hash is not null');
    expect(await anyAccount(db.pool())).toBe(false);
    await insertAccount(db.pool(), { email: 'first@ferry.example', name: 'First', passwordHash: 'x' });
    expect(await anyAccount(db.pool())).toBe(true);
  });

  it('has one account for an e-mail address, whatever its letters', async () => {
    await insertAccount(db.pool(), { email: 'Wen@Ferry.example', name: 'Wen', passwordHash: 'x' });
    expect(await findPasswordHash(db.pool(), 'WEN@ferry.EXAMPLE')).toMatchObject({ hash: 'x' });
    await expect(insertAccount(db.pool(), { email: 'wen@ferry.example', name: 'Wen', passwordHash: 'x' })).rejects.toMatchObject({ code: 'email-taken' });
  });
});

describe('attempts', () => {
  it('are counted across instances and refused beyond the limit, each bucket on its own', async () => {
    const limit = { bucket: 'test/a', most: 5, seconds: 600 };
    const results = await Promise.allSettled(Array.from({ length: 8 }, () => countAttempt(db.pool(), limit)));
    expect(results.filter(({ status }) => status === 'fulfilled')).toHaveLength(5);
    await expect(countAttempt(db.pool(), limit)).rejects.toMatchObject({ status: 429, message: expect.stringMatching(/Wait (a minute|\d+ minutes)/) });
    await countAttempt(db.pool(), { ...limit, bucket: 'test/b' });
  });
});

describe('a show', () => {
  it('keeps its last owner', async () => {
    const account = await demoAccount(db.pool());
    const { rows } = await db.pool().query<{ id: string }>('select id from show');
    await expect(removeMember(db.pool(), rows[0].id, account)).rejects.toMatchObject({ code: 'last-owner' });
    const other = await insertAccount(db.pool(), { email: 'second@ferry.example', name: 'Second', passwordHash: 'x' });
    await setMember(db.pool(), rows[0].id, other, 'owner');
    await removeMember(db.pool(), rows[0].id, other);
    await expect(removeMember(db.pool(), rows[0].id, other)).rejects.toMatchObject({ status: 404 });
  });

  it('has colleagues whose role changes, and lets nobody go who alone owns it', async () => {
    const owner = await demoAccount(db.pool());
    const { rows } = await db.pool().query<{ id: string; name: string }>('select id, name from show');
    const [show] = rows;
    const other = await insertAccount(db.pool(), { email: 'third@ferry.example', name: 'Third', passwordHash: 'x' });
    await expect(changeRole(db.pool(), show.id, other, 'host')).rejects.toMatchObject({ status: 404 });
    await setMember(db.pool(), show.id, other, 'producer');
    await expect(changeRole(db.pool(), show.id, owner, 'host')).rejects.toMatchObject({ code: 'last-owner' });
    await expect(deleteAccount(db.pool(), owner)).rejects.toMatchObject({ code: 'only-owner', message: expect.stringContaining(show.name) });
    await changeRole(db.pool(), show.id, other, 'owner');
    await changeRole(db.pool(), show.id, owner, 'host');
    expect([await roleIn(db.pool(), show.id, owner), await roleIn(db.pool(), show.id, other)]).toEqual(['host', 'owner']);
    await changeRole(db.pool(), show.id, owner, 'owner');
    const token = await beginSignIn(db.pool(), other);
    await deleteAccount(db.pool(), other);
    expect([await findAccount(db.pool(), other), await findSignedIn(db.pool(), token), await roleIn(db.pool(), show.id, owner)]).toEqual([null, null, 'owner']);
  });
});
