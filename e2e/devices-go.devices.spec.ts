import { watchMachine } from './calm';
import { newestGaps } from './newest-take';
import { addLine, chooseMySound, expect, test, type Machine } from './devices-host';
import { makeEpisode } from './guests';
import { speech, tone } from './signals';
import { downloadAll, trackOf } from './take-files';
import { toneDb } from './tones';

const RATE = 48000;
const HOST = 440;
const ANNA = 830;
const BELA = 1210;

/** Level of a tone in each stretch of 10 ms, dB. */
function levelsOf(track: Float32Array, frequency: number): number[] {
  const piece = RATE / 100;
  return Array.from({ length: Math.floor(track.length / piece) }, (_, k) => toneDb(track.subarray(k * piece, (k + 1) * piece), frequency));
}

const heardIn = (track: Float32Array, frequency: number): boolean[] => levelsOf(track, frequency).map((db) => db > -40);

/** A tone that breaks off and goes on in another phase takes itself away over a whole second, and is there all the same. */
const usualDb = (track: Float32Array, frequency: number): number => levelsOf(track, frequency).sort((a, b) => a - b)[Math.floor(track.length / (RATE / 50))];

interface Gap {
  recorded: string;
  from: number;
  until: number;
}

/** An outage with what is listed right before and behind it: a device that stutters as it goes or comes is late there. */
function withNeighbours(outage: Gap, gaps: readonly Gap[]): Gap {
  const touching = gaps.filter(({ recorded, from, until }) => recorded === outage.recorded && from < outage.until + 0.02 && until > outage.from - 0.02);
  const whole = { ...outage, from: Math.min(...touching.map(({ from }) => from)), until: Math.max(...touching.map(({ until }) => until)) };
  return whole.from === outage.from && whole.until === outage.until ? outage : withNeighbours(whole, gaps);
}

async function news(machine: Machine, words: RegExp): Promise<void> {
  await expect(machine.page.getByText(words).first()).toBeVisible({ timeout: 10_000 });
}

test('whatever is pulled out during a take is silent and listed, is taken up again by itself, and nothing else is touched', async ({ machine }) => {
  const { sound, host, page } = machine;
  for (const cable of ['blue', 'green', 'red', 'white']) sound.addCable(cable, `${cable} cable`);
  sound.addOutput('hall', 'Hall');
  await makeEpisode(host, 'Pulled plugs', []);
  sound.addOutput('wall', 'Wall loudspeakers');
  await chooseMySound(machine);
  // Phones that are loudspeakers beside an open microphone are said before anybody hears themselves.
  const phones = page.getByLabel('Phones', { exact: true });
  const audit = page.getByRole('region', { name: 'The audit' });
  await phones.selectOption({ label: 'Wall loudspeakers' });
  await expect(audit).toContainText('Your phones are “Wall loudspeakers”, loudspeakers by their name');
  await phones.selectOption({ label: 'Headphones' });
  await expect(audit).not.toContainText('Wall loudspeakers');
  for (const [name, into, out] of [['Anna', 'blue', 'green'], ['Bela', 'red', 'white']]) {
    const talking = sound.play(into, speech(3, 30));
    expect(await addLine(machine, name, `${into} cable (in)`, `${out} cable`)).toContain('Connected both ways');
    talking.stop();
  }
  await host.openInAndOut();
  const outlets = page.getByRole('region', { name: 'Outlets' });
  await outlets.getByLabel('leaves by').selectOption({ label: 'Hall' });
  await outlets.getByRole('button', { name: 'Add the outlet' }).click();
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  sound.play('mouth', tone(HOST, 200));
  sound.play('blue', tone(ANNA, 200));
  sound.play('red', tone(BELA, 200));
  const hall = sound.record('hall');
  await host.record();
  await host.untilRecorded(8);
  const trap = sound.record('leak');
  const takenMeanwhile = watchMachine();

  const pull = async (id: string, gone: RegExp, plug: () => void, back: RegExp): Promise<void> => {
    sound.pull(id);
    await news(machine, gone);
    await host.untilRecorded((await host.recordedSeconds()) + 2);
    plug();
    const since = Date.now();
    const taken = watchMachine();
    await news(machine, back);
    expect(Date.now() - since, `${id} is back within three seconds, where the machine has time`).toBeLessThan(taken() < 0.1 ? 3500 : 15_000);
    await host.untilRecorded((await host.recordedSeconds()) + 2);
  };
  await pull('mic', /Your microphone .* went away/, () => sound.addInput('mic', 'mouth', 'Desk microphone'), /Your microphone .* is back/);
  await pull('blue_in', /Anna: the input .* went away/, () => sound.addInput('blue_in', 'blue', 'blue cable (in)'), /Anna: the input .* is back/);
  await pull('white', /Bela’s return: the output .* went away/, () => sound.addOutput('white', 'white cable'), /Bela’s return: the output .* is back/);
  await pull('phones', /Your phones: the output .* went away/, () => sound.addOutput('phones', 'Headphones'), /Your phones: the output .* is back/);
  await pull('hall', /The program does not leave: .* is away/, () => sound.addOutput('hall', 'Hall'), /The program: the output .* is back/);
  const again = sound.record('hall');
  await host.untilRecorded((await host.recordedSeconds()) + 3);
  await host.stop();

  // What carried a mix is carried again.
  expect(usualDb(hall.stop().subarray(3 * RATE, 4 * RATE), HOST)).toBeGreaterThan(-30);
  expect(usualDb(again.stop().subarray(-RATE), ANNA)).toBeGreaterThan(-30);
  // Until it is known that an output went, a system may send its sound elsewhere: for so long, and never after.
  const leaked = heardIn(trap.stop(), ANNA).filter(Boolean).length;
  expect(leaked * 10, 'ms of any mix at the system’s own output, three outputs pulled, where the machine has time').toBeLessThan(3 * (takenMeanwhile() < 0.1 ? 250 : 1000));

  const gaps = (await newestGaps()).map(({ recorded, atSample, lengthSamples, cause }) => ({ recorded, cause, from: atSample / RATE, until: (atSample + lengthSamples) / RATE }));
  const away = gaps.filter(({ cause }) => cause === 'device-away');
  expect(away.map(({ recorded }) => recorded).sort(), JSON.stringify(gaps)).toEqual(['voice:anna', 'voice:maren']);
  await host.openNewestTake();
  const files = await downloadAll(page);
  for (const [recorded, name, frequency] of [['voice:maren', 'Maren-Sollis', HOST], ['voice:anna', 'Anna', ANNA]] as const) {
    const heard = heardIn(trackOf(files, `${name}_voice`)[0], frequency);
    const { from, until } = withNeighbours(away.find((gap) => gap.recorded === recorded)!, gaps);
    const middle = Math.round(((from + until) / 2) * 100);
    expect(heard[middle], `${name} is silent in the gap`).toBe(false);
    const begins = heard.slice(0, middle).lastIndexOf(true) / 100;
    const ends = (middle + heard.slice(middle).indexOf(true)) / 100;
    expect(Math.abs(begins - from), `${name}'s gap begins where the sound ends: ${begins} s, listed ${from} s`).toBeLessThan(0.12);
    expect(Math.abs(ends - until), `${name}'s gap ends where the sound is back: ${ends} s, listed ${until} s`).toBeLessThan(0.12);
  }
  const bela = heardIn(trackOf(files, 'Bela_voice')[0], BELA).slice(700);
  const silent = bela.filter((one) => !one).length * 10;
  const listed = gaps.filter(({ recorded }) => recorded === 'voice:bela').reduce((sum, { from, until }) => sum + 1000 * (until - from), 0);
  expect(silent, 'ms of silence on a track of which nothing was pulled, but what is listed').toBeLessThan(listed + 60);
});
