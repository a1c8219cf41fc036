import { addLine, chooseMySound, expect, test } from './devices-host';
import { bestToneDb, Guest, heardTones, makeEpisode, steadyToneDb } from './guests';
import { exactLag, peakDb, speech, tone } from './signals';
import { downloadAll, trackOf } from './take-files';

const TONES = { host: 440, anna: 620, bela: 830, cleo: 1070, dara: 1310 };
const CABLES = ['blue', 'green', 'red', 'white', 'black', 'grey'];

test('three lines by other programs and a guest by link hear all others and never themselves; each track is one voice alone', async ({ machine, browser }) => {
  test.setTimeout(240_000);
  const { sound, host, page } = machine;
  for (const cable of CABLES) sound.addCable(cable, `${cable[0].toUpperCase()}${cable.slice(1)} cable`);
  const trap = sound.record('leak');
  const [link] = await makeEpisode(host, 'Three cables', ['Dara Quist']);
  await chooseMySound(machine);
  const people = [
    { name: 'Anna', into: 'blue', out: 'green', seed: 11 },
    { name: 'Bela', into: 'red', out: 'white', seed: 12 },
    { name: 'Cleo', into: 'black', out: 'grey', seed: 13 },
  ];
  const label = (cable: string) => `${cable[0].toUpperCase()}${cable.slice(1)} cable`;
  for (const { name, into, out, seed } of people) {
    const talking = sound.play(into, speech(seed, 30));
    expect(await addLine(machine, name, `${label(into)} (in)`, label(out))).toContain('Connected both ways');
    talking.stop();
  }
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  const guest = await Guest.open(browser, 'Dara', new URL(link, process.env.BASE_URL).href, TONES.dara);
  await guest.arrive();
  await page.getByRole('button', { name: 'Bring Dara into the call' }).first().click();
  await guest.isIn();

  // Everybody is a tone, and listens.
  const ears = Object.fromEntries(people.map(({ name, out }) => [name, sound.record(out)]));
  const phones = sound.record('phones');
  const voices = [sound.play('mouth', tone(TONES.host, 40)), ...people.map(({ name, into }) => sound.play(into, tone(TONES[name.toLowerCase() as 'anna'], 40)))];
  await host.record();
  await host.untilRecorded(14);
  const own = 20 * Math.log10(0.1);
  for (const { name } of people) {
    const heard = ears[name].stop().subarray(-6 * 48000);
    for (const [who, frequency] of Object.entries(TONES)) {
      const db = who === name.toLowerCase() ? steadyToneDb(heard, frequency) : bestToneDb(heard, frequency);
      if (who === name.toLowerCase()) expect(db - own, `${name} in ${name}'s return`).toBeLessThan(-80);
      // The guest by link comes through a codec.
      else if (who !== 'dara') expect(Math.abs(db - own), `${who} in ${name}'s return`).toBeLessThan(1);
      else expect(Math.abs(db - own), `${who} in ${name}'s return`).toBeLessThan(2);
    }
  }
  const inPhones = phones.stop().subarray(-6 * 48000);
  for (const name of ['anna', 'bela', 'cleo'] as const) expect(Math.abs(bestToneDb(inPhones, TONES[name]) - own), `${name} in the phones`).toBeLessThan(1);
  const byLink = await heardTones(guest.page, Object.values(TONES));
  for (const [who, frequency] of Object.entries(TONES)) {
    if (who === 'dara') expect(byLink.get(frequency)!.best - own, 'Dara in Dara’s return').toBeLessThan(-60);
    else expect(Math.abs(byLink.get(frequency)!.best - own), `${who} in Dara's return`).toBeLessThan(2);
  }
  for (const voice of voices) voice.stop();

  // Then everybody speaks, known to the bit.
  const said = people.map(({ into, seed }) => {
    const sent = speech(seed + 100, 20);
    sound.play(into, sent);
    return sent;
  });
  await host.untilRecorded(32);
  await host.stop();
  await guest.close();
  await host.openNewestTake();
  const files = await downloadAll(page);
  for (const [k, { name }] of people.entries()) {
    const [track] = trackOf(files, `${name}_voice`);
    expect(exactLag(track, said[k], 48000, 5 * 48000), `${name}'s track holds five seconds of what was said, to the bit`).not.toBeNull();
    const tones = track.subarray(5 * 48000, 11 * 48000);
    for (const [who, frequency] of Object.entries(TONES)) if (who !== name.toLowerCase()) expect(steadyToneDb(tones, frequency), `${who} on ${name}'s track`).toBeLessThan(-90);
  }
  expect(peakDb(trap.stop()), 'nothing ever sounds at the system’s own output').toBeLessThan(-90);
});
