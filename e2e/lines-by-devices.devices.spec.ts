import { addLine, chooseMySound, expect, test } from './devices-host';
import { Guest, makeEpisode } from './guests';
import { sitPractice } from './practice-seat';
import { exactShare, levelAgainst, peakDb, speech, tone } from './signals';
import { downloadAll, trackOf } from './take-files';
import { bestToneDb, heardTones, steadyToneDb } from './tones';

const TONES = { host: 440, anna: 620, bela: 830, cleo: 1070, dara: 1310 };
/** Stretches that are over before a jitter buffer which finds its place has bent a tone by much. */
const SHORT = 2048;
const CABLES = ['blue', 'green', 'red', 'white', 'black', 'grey'];

test('three lines by other programs, a practice caller and a guest by link hear all others and never themselves; each track is one voice alone', async ({ machine, browser }) => {
  const { sound, host, page } = machine;
  for (const cable of CABLES) sound.addCable(cable, `${cable[0].toUpperCase()}${cable.slice(1)} cable`);
  const trap = sound.record('leak');
  const [link] = await makeEpisode(host, 'Three cables', ['Dara Quist', 'Edda Lind']);
  await sitPractice('Edda Lind', 'odalys');
  await page.reload();
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
  await host.lane('Edda').getByRole('button', { name: 'Bring Edda up' }).click();
  await host.record();
  await host.untilRecorded(3);
  const listen = async (seconds: number) => {
    const ears = [...people.map(({ out }) => sound.record(out)), sound.record('phones')];
    const from = await host.recordedSeconds();
    await host.untilRecorded(from + seconds + 1);
    return ears.map((ear) => ear.stop().subarray(-seconds * 48000));
  };
  // The practice caller is the only one who speaks, and then the only one who is kept out: the rest is measured with tones.
  let practised = await listen(12);
  // She takes turns with silence: it is gone on listening until she said something.
  for (let tries = 0; tries < 3 && peakDb(practised[3]) < -40; tries++) practised = await listen(12);
  const practisedUntil = await host.recordedSeconds();
  await host.act('take edda out');

  // Everybody is a tone, and listens.
  const voices = [sound.play('mouth', tone(TONES.host, 60)), ...people.map(({ name, into }) => sound.play(into, tone(TONES[name.toLowerCase() as 'anna'], 60)))];
  await host.untilRecorded(practisedUntil + 5);
  const own = 20 * Math.log10(0.1);
  const byCable = ['host', 'anna', 'bela', 'cleo'] as const;
  const alone = await listen(5);
  for (const [k, { name }] of people.entries()) {
    for (const who of byCable) {
      if (who === name.toLowerCase()) expect(steadyToneDb(alone[k], TONES[who]) - own, `${name} in ${name}'s return`).toBeLessThan(-80);
      else expect(Math.abs(bestToneDb(alone[k], TONES[who], SHORT) - own), `${who} in ${name}'s return`).toBeLessThan(1);
    }
  }
  for (const who of byCable) {
    if (who === 'host') expect(steadyToneDb(alone[3], TONES[who]) - own, 'the host in the phones').toBeLessThan(-80);
    else expect(Math.abs(bestToneDb(alone[3], TONES[who], SHORT) - own), `${who} in the phones`).toBeLessThan(1);
  }

  for (const voice of voices) voice.stop();

  // Then everybody speaks, known to the bit.
  const said = people.map(({ into, seed }) => {
    const sent = speech(seed + 100, 20);
    sound.play(into, sent);
    return sent;
  });
  await host.untilRecorded((await host.recordedSeconds()) + 14);
  // Where the clocks had to be evened out, or a stall was, the line says so, and bits are no longer bits.
  const untouched = new Map<string, boolean>();
  for (const { name } of people) {
    await host.lane(name).getByRole('button', { name: `Line of ${name}` }).click();
    const panel = page.getByRole('dialog', { name: new RegExp(`^${name}`) });
    const words = await panel.innerText();
    untouched.set(name, /Evened out\s+0 samples/.test(words) && /Drop-outs\s+0\s/.test(words));
    await panel.getByRole('button', { name: 'Close' }).click();
  }
  const again = people.map(({ name, into }) => sound.play(into, tone(TONES[name.toLowerCase() as 'anna'], 60)));
  again.push(sound.play('mouth', tone(TONES.host, 60)));
  const guest = await Guest.open(browser, 'Dara', new URL(link, process.env.BASE_URL).href, TONES.dara);
  await guest.arrive();
  await page.getByRole('button', { name: 'Bring Dara into the call' }).first().click();
  await guest.isIn();
  // What comes through a codec is no longer a pure tone, and a line that has just begun makes sound up for a while.
  await expect(async () => {
    const together = await listen(5);
    for (const [k, { name }] of people.entries()) expect(Math.abs(bestToneDb(together[k], TONES.dara, SHORT) - own), `Dara in ${name}'s return`).toBeLessThan(2);
  }).toPass({ timeout: 60_000 });
  await expect(async () => {
    const byLink = await heardTones(guest.page, Object.values(TONES));
    for (const [who, frequency] of Object.entries(TONES)) {
      if (who === 'dara') expect(byLink.get(frequency)!.worst - own, 'Dara in Dara’s return').toBeLessThan(-60);
      else expect(Math.abs(byLink.get(frequency)!.best - own), `${who} in Dara's return`).toBeLessThan(4);
    }
  }).toPass({ timeout: 45_000 });
  await host.stop();
  await guest.close();
  await host.openNewestTake();
  const files = await downloadAll(page);
  const [edda] = trackOf(files, 'Edda-Lind_voice');
  const spoken = edda.subarray(0, (practisedUntil + 3) * 48000);
  expect(peakDb(spoken), 'the practice caller spoke').toBeGreaterThan(-30);
  for (const [k, who] of ['Anna', 'Bela', 'Cleo', 'the host'].entries()) expect(Math.abs(levelAgainst(practised[k], spoken)), `Edda as ${who} hears her`).toBeLessThan(1);
  // Her own speech has every frequency: what leaks is there in her pauses as well.
  const whileTones = [edda.subarray((practisedUntil + 4) * 48000, (practisedUntil + 10) * 48000), edda.subarray(-16 * 48000, -2 * 48000)];
  for (const [who, frequency] of Object.entries(TONES)) expect(Math.min(...whileTones.map((part) => steadyToneDb(part, frequency))), `${who} on Edda's track`).toBeLessThan(-90);
  for (const [k, { name }] of people.entries()) {
    const [track] = trackOf(files, `${name}_voice`);
    const exact = exactShare(track, said[k].subarray(48000, 11 * 48000));
    if (untouched.get(name)) expect(exact, `${name}'s track is what was said, to the bit`).toBeGreaterThan(0.8);
    expect(peakDb(track.subarray(48000, practisedUntil * 48000)), `nothing on ${name}'s track while only Edda speaks`).toBeLessThan(-90);
    const tones = track.subarray((practisedUntil + 4) * 48000, (practisedUntil + 10) * 48000);
    for (const [who, frequency] of Object.entries(TONES)) if (who !== name.toLowerCase()) expect(steadyToneDb(tones, frequency), `${who} on ${name}'s track`).toBeLessThan(-90);
  }
  expect(peakDb(trap.stop()), 'nothing ever sounds at the system’s own output').toBeLessThan(-90);
});
