import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { database } from '../database';
import { listPads, storePads } from '../episodes/queries';
import { demoEpisode, testDatabase } from '../testing/test-database';
import { changeSound, findSoundFile, insertImportedSound, listSounds, removeSound } from './queries';

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
  audio,
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
    const before = await findSoundFile(db.pool(), sound.id);
    expect(await changeSound(db.pool(), sound.id, { kind: 'bed', gainDb: -15.8 })).toMatchObject({ kind: 'bed', name: 'Winch', gainDb: expect.closeTo(-15.8, 4) });
    expect((await findSoundFile(db.pool(), sound.id)).audio.equals(before.audio)).toBe(true);
    expect((await listSounds(db.pool(), show)).map(({ name }) => name)).toContain('Winch');
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
    const pads = (await listPads(db.pool(), episode)).map(({ sound_id, player, key, loops, level_db }) => ({ sound: sound_id, player, key, loops, levelDb: level_db }));
    await storePads(db.pool(), episode, show, [...pads, { sound: sound.id, player: 'effects', key: '5', loops: false, levelDb: -2 }]);
    expect((await listPads(db.pool(), episode)).at(-1)).toMatchObject({ name: 'Gull', key: '5', gain_db: expect.closeTo(-5.8, 4) });
    await expect(removeSound(db.pool(), sound.id)).rejects.toMatchObject({ code: 'on-a-pad' });
    await storePads(db.pool(), episode, show, pads);
    await removeSound(db.pool(), sound.id);
    await expect(storePads(db.pool(), episode, show, [{ sound: sound.id, player: 'effects', key: '5', loops: false, levelDb: 0 }])).rejects.toMatchObject({ status: 422 });
  });
});
