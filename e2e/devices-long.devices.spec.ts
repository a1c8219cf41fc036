import { addLine, chooseMySound, expect, test, type Machine } from './devices-host';
import { makeEpisode, steadyToneDb } from './guests';
import { peakDb, speech, tone } from './signals';

/** A minute among all tests; ten by `npm run soak-devices`. */
const MINUTES = Number(process.env.SOAK_MINUTES ?? 1);
const CABLES = ['blue', 'green', 'red', 'white', 'black'];
const FOREIGN_PPM = 300;

/** Drop-outs of a mix at its output: moments in which a steady tone is not there. */
function dropOuts(samples: Float32Array, frequency: number): number {
  const piece = 480;
  let [count, out] = [0, false];
  for (let k = 1; k < Math.floor(samples.length / piece) - 1; k++) {
    const stretch = samples.subarray(k * piece, (k + 1) * piece);
    const rms = Math.sqrt(stretch.reduce((sum, x) => sum + x * x, 0) / piece);
    const silent = rms < 0.01;
    if (silent && !out) count++;
    out = silent;
  }
  return count + (steadyToneDb(samples.subarray(-48000), frequency) < -60 ? 1 : 0);
}

async function addOutlet({ page }: Machine, device: string): Promise<void> {
  const outlets = page.getByRole('region', { name: 'Outlets' });
  await outlets.getByLabel('leaves by').selectOption({ label: device });
  await outlets.getByRole('button', { name: 'Add the outlet' }).click();
}

test(`four outlets and three returns for ${MINUTES} min, one far end by a clock ${FOREIGN_PPM} ppm off`, async ({ machine }) => {
  test.setTimeout((MINUTES + 4) * 60_000);
  const { sound, host, page } = machine;
  for (const cable of CABLES) sound.addCable(cable, `${cable} cable`);
  for (const hall of ['one', 'two', 'three', 'four']) sound.addOutput(hall, `Hall ${hall}`);
  sound.addForeignClock('foreign', 'Foreign interface', FOREIGN_PPM, 930);
  await makeEpisode(host, 'A long evening', []);
  await chooseMySound(machine);
  for (const [name, into, out] of [['Anna', 'blue', 'green'], ['Bela', 'red', 'white']]) {
    const talking = sound.play(into, speech(3, 30));
    expect(await addLine(machine, name, `${into} cable (in)`, `${out} cable`)).toContain('Connected');
    talking.stop();
  }
  expect(await addLine(machine, 'Cleo', 'Foreign interface', 'black cable')).toContain('Connected');
  for (const hall of ['one', 'two', 'three', 'four']) await addOutlet(machine, `Hall ${hall}`);
  const trap = sound.record('leak');
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  sound.play('blue', tone(620, 60 * MINUTES + 100));
  await host.record();
  await host.untilRecorded(10);
  const ends = ['green', 'white', 'black', 'one', 'two', 'three', 'four'].map((end) => ({ end, ear: sound.record(end) }));
  // Anna does not hear herself; everybody else does.
  await expect.poll(() => host.recordedSeconds(), { timeout: (MINUTES + 1) * 60_000, intervals: [2000] }).toBeGreaterThanOrEqual(10 + 60 * MINUTES);
  await host.lane('Cleo').getByRole('button', { name: 'Line of Cleo' }).click();
  const panel = page.getByRole('dialog', { name: /^Cleo/ });
  await expect(panel).toContainText(/(2[3-9]\d|3[0-6]\d) ppm fast/, { timeout: 30_000 });
  const said = await panel.innerText();
  await panel.getByRole('button', { name: 'Close' }).click();
  const found = ends.map(({ end, ear }) => ({ end, dropOuts: dropOuts(ear.stop().subarray(48000), end === 'green' ? 930 : 620) }));
  console.log(`Drop-outs in ${MINUTES} min: ${found.map((one) => `${one.end} ${one.dropOuts}`).join(', ')}. Cleo: ${said.replace(/\s+/g, ' ').slice(0, 320)}`);
  for (const one of found) expect(one.dropOuts, `drop-outs at ${one.end}`).toBeLessThanOrEqual(1 + 2 * MINUTES);
  await host.stop();
  expect(peakDb(trap.stop())).toBeLessThan(-90);
});
