import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { database } from '../database';
import { asBoard, type BoardPad } from '@/core/sounds/board';
import { listPads, storePads } from '../episodes/queries';
import { inTransaction } from '../database';
import { beginTake } from '../takes/begin-take';
import { insertPlays, listPlays, playsAsCsv } from '../takes/plays';
import { findSoundSettings, storeSoundSettings } from '../shows/sound-settings';
import { findMidi, storeMidi } from '../midi/queries';
import { listBoards, storeBoard } from '../boards/queries';
import { DEFAULT_SOUND_SETTINGS } from '@/core/sounds/sound-settings';
import { demoAccount, demoEpisode, testDatabase } from '../testing/test-database';
import { findSoundFile, soundInMemory, soundPieces, withSpooledSound } from './sound-file';
import { changeSound, insertImportedSound, listSounds, removeSound } from './queries';

const db = testDatabase();
afterAll(() => database().end());

let show: string;
let voice: Buffer;
beforeAll(async () => {
  const { rows } = await db.pool().query<{ id: string }>('select id from show');
  show = rows[0].id;
  voice = await readFile('public/practice/voices/maren-0.flac').catch(() => readFile('public/practice/sounds/ships-bell.flac'));
});

const imported = (name: string, audio: Buffer) => ({
  show,
  name,
  kind: 'clip' as const,
  fileName: `${name}.mp3`,
  originalSha256: createHash('sha256').update(name).digest(),
  file: soundInMemory(audio),
  lengthSamples: 48000,
  integratedLufs: -14.2,
  shortTermLufs: -12,
  truePeakDb: -0.3,
  headSilenceSamples: 0,
  tailSilenceSamples: 0,
  gainDb: -5.8,
});

describe('the library', () => {
  it('keeps a sound with what was measured, and changes what is written of it only', async () => {
    const sound = await insertImportedSound(db.pool(), imported('Winch', Buffer.concat([voice, Buffer.from('1')])));
    expect(sound).toMatchObject({ name: 'Winch', kind: 'clip', gainDb: expect.closeTo(-5.8, 4), integratedLufs: expect.closeTo(-14.2, 4) });
    const whole = async () => {
      const pieces: Buffer[] = [];
      for await (const piece of soundPieces(db.pool(), sound.id)) pieces.push(piece);
      return Buffer.concat(pieces);
    };
    expect(await findSoundFile(db.pool(), sound.id)).toEqual({ mediaType: 'audio/flac', bytes: voice.length + 1 });
    expect((await whole()).equals(Buffer.concat([voice, Buffer.from('1')]))).toBe(true);
    expect(await changeSound(db.pool(), sound.id, { kind: 'bed', gainDb: -15.8 })).toMatchObject({ kind: 'bed', name: 'Winch', gainDb: expect.closeTo(-15.8, 4) });
    expect((await whole()).equals(Buffer.concat([voice, Buffer.from('1')]))).toBe(true);
    expect((await listSounds(db.pool(), show)).map(({ name }) => name)).toContain('Winch');
  });

  it('takes and gives a sound of hundreds of megabytes without ever holding it whole', { timeout: 120_000 }, async () => {
    const MIB = 2 ** 20;
    const count = 300;
    const part = (n: number) => Buffer.alloc(MIB, n % 251);
    async function* parts() {
      for (let n = 0; n < count; n++) yield part(n);
    }
    const before = process.memoryUsage().rss;
    let most = 0;
    const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 20);
    const sound = await withSpooledSound(parts(), (file) => insertImportedSound(db.pool(), { ...imported('Long river', Buffer.alloc(0)), file }));
    const hash = createHash('sha256');
    let bytes = 0;
    for await (const piece of soundPieces(db.pool(), sound.id)) {
      hash.update(piece);
      bytes += piece.length;
    }
    clearInterval(watch);
    const expected = createHash('sha256');
    for (let n = 0; n < count; n++) expected.update(part(n));
    expect([bytes, hash.digest('hex')]).toEqual([count * MIB, expected.digest('hex')]);
    expect((most - before) / MIB).toBeLessThan(count);
    await removeSound(db.pool(), sound.id);
    expect((await db.pool().query('select 1 from sound_piece where sound_id = $1', [sound.id])).rowCount).toBe(0);
  });

  it('notices the same sound, by the file that was given and by what it sounds like', async () => {
    const audio = Buffer.concat([voice, Buffer.from('2')]);
    await insertImportedSound(db.pool(), imported('Horn', audio));
    const again = { ...imported('Horn', Buffer.from('other')), name: 'Horn again' };
    await expect(insertImportedSound(db.pool(), again)).rejects.toMatchObject({ code: 'same-sound', message: 'This sound is in the library already, as “Horn”.' });
    await expect(insertImportedSound(db.pool(), imported('Copy', audio))).rejects.toMatchObject({ code: 'same-sound' });
  });

  it('keeps what is on a pad', async () => {
    const episode = await demoEpisode(db.pool());
    const sound = await insertImportedSound(db.pool(), imported('Gull', Buffer.concat([voice, Buffer.from('3')])));
    const pads = asBoard(await listPads(db.pool(), episode));
    const pad: BoardPad = { sound: sound.id, player: 'effects', key: '5', mode: 'hold', again: 'overlap', group: 'gulls', levelDb: -2 };
    await storePads(db.pool(), episode, show, [...pads, pad]);
    expect((await listPads(db.pool(), episode)).at(-1)).toMatchObject({ ...pad, name: 'Gull', gainDb: expect.closeTo(-5.8, 4) });
    await expect(removeSound(db.pool(), sound.id)).rejects.toMatchObject({ code: 'on-a-pad' });
    await storePads(db.pool(), episode, show, pads);
    await removeSound(db.pool(), sound.id);
    await expect(storePads(db.pool(), episode, show, [pad])).rejects.toMatchObject({ status: 422 });
  });
});

describe('what of a sound is played', () => {
  it('is kept as it fits the sound, and comes back with the board', async () => {
    const sound = await insertImportedSound(db.pool(), imported('Rope', Buffer.concat([voice, Buffer.from('4')])));
    expect(sound.edit).toEqual({ inSample: 0, outSample: 48000, fadeInSamples: 0, fadeOutSamples: 0, loop: null });
    const edit = { inSample: 1200, outSample: 99_000, fadeInSamples: 4800, fadeOutSamples: 90_000, loop: { from: 0, to: 12_000 } };
    const changed = await changeSound(db.pool(), sound.id, { edit, name: 'Long rope' });
    expect(changed).toMatchObject({ name: 'Long rope', edit: { inSample: 1200, outSample: 48000, fadeInSamples: 4800, fadeOutSamples: 42_000, loop: { from: 1200, to: 12_000 } } });
    const episode = await demoEpisode(db.pool());
    const pads = asBoard(await listPads(db.pool(), episode));
    await storePads(db.pool(), episode, show, [...pads, { sound: sound.id, player: 'effects', key: '', mode: 'loop', again: 'stop', group: null, levelDb: 0 }]);
    expect((await listPads(db.pool(), episode)).at(-1)!.edit).toEqual(changed.edit);
    await storePads(db.pool(), episode, show, pads);
  });
});

describe('a board', () => {
  it('is kept for the show under its name, without sounds that are gone by then', async () => {
    const sound = await insertImportedSound(db.pool(), imported('Foghorn', Buffer.concat([voice, Buffer.from('5')])));
    const pads = asBoard(await listPads(db.pool(), await demoEpisode(db.pool())));
    const horn: BoardPad = { sound: sound.id, player: 'effects', key: '9', mode: 'hold', again: 'restart', group: 'horns', levelDb: 3 };
    await storeBoard(db.pool(), show, { name: 'Harbour', pads: [horn, ...pads] });
    await storeBoard(db.pool(), show, { name: 'Harbour', pads: [...pads, horn] });
    expect(await listBoards(db.pool(), show)).toEqual([{ name: 'Harbour', pads: [...pads, horn] }]);
    await removeSound(db.pool(), sound.id);
    expect(await listBoards(db.pool(), show)).toEqual([{ name: 'Harbour', pads }]);
    await expect(storeBoard(db.pool(), crypto.randomUUID(), { name: 'x', pads })).rejects.toMatchObject({ status: 404 });
  });

  it('is stored whole when two windows store theirs at once', async () => {
    const episode = await demoEpisode(db.pool());
    const pads = asBoard(await listPads(db.pool(), episode));
    const both = [pads, [...pads].reverse()];
    await Promise.all(both.map((board) => inTransaction(db.pool(), (client) => storePads(client, episode, show, board))));
    expect(both).toContainEqual(asBoard(await listPads(db.pool(), episode)));
    await storePads(db.pool(), episode, show, pads);
  });
});

describe('how a show deals with its sounds', () => {
  it('is the product’s own way until the show says otherwise', async () => {
    expect(await findSoundSettings(db.pool(), show)).toEqual(DEFAULT_SOUND_SETTINGS);
    const settings = { ...DEFAULT_SOUND_SETTINGS, fadeSeconds: 5, levels: { ...DEFAULT_SOUND_SETTINGS.levels, bed: -34 } };
    await storeSoundSettings(db.pool(), show, settings);
    expect(await findSoundSettings(db.pool(), show)).toEqual(settings);
    await storeSoundSettings(db.pool(), show, DEFAULT_SOUND_SETTINGS);
  });
});

describe('a controller', () => {
  it('keeps what it does with its account; what cannot be read is nothing', async () => {
    const account = await demoAccount(db.pool());
    const bindings = [{ message: 'note', channel: 1, number: 36, target: { does: 'action', action: 'stop-sounds' } }] as const;
    await storeMidi(db.pool(), account, [...bindings]);
    expect(await findMidi(db.pool(), account)).toEqual(bindings);
    await db.pool().query(`update account_midi set bindings = '[{"message":"sysex"}]'`);
    expect(await findMidi(db.pool(), account)).toEqual([]);
  });
});

describe('what was played in a take', () => {
  it('is kept once however often it is reported, with the names of that time, and leaves as a table', async () => {
    const episode = await demoEpisode(db.pool());
    const { take } = await beginTake(db.pool(), episode, [{ kind: 'sounds', recorded: 'sounds:effects', name: 'Sounds', channels: 2, format: 'pcm24' }]);
    const sound = await insertImportedSound(db.pool(), imported('=SUM(A1)', Buffer.concat([voice, Buffer.from('6')])));
    const play = { place: 0, sound: sound.id, atSample: 72_000, lengthSamples: 24_000, gainDb: -5.8, peakDb: -3.2, rmsDb: null };
    await insertPlays(db.pool(), take, show, [play, { ...play, place: 1, sound: crypto.randomUUID() }]);
    await insertPlays(db.pool(), take, show, [{ ...play, lengthSamples: 1 }, { ...play, place: 2, atSample: 0 }]);
    await changeSound(db.pool(), sound.id, { name: 'Renamed' });
    const plays = await listPlays(db.pool(), take);
    expect(plays.map(({ name, atSample, lengthSamples }) => [name, atSample, lengthSamples])).toEqual([['=SUM(A1)', 0, 24_000], ['=SUM(A1)', 72_000, 24_000]]);
    const rows = playsAsCsv(plays).trim().split('\r\n');
    expect(rows).toHaveLength(3);
    // A spreadsheet must not compute a name.
    expect(rows[2]).toBe("1.500,0.500,'=SUM(A1),clip,'=SUM(A1).mp3,72000,24000,-5.8,-3.2,");
  });
});
