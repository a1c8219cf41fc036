import { mkdirSync, writeFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { addLine, chooseMySound, expect, test, type Machine } from './devices-host';
import { breaks, samplesMore } from './drop-outs';
import { makeEpisode } from './guests';
import type { Host } from './host';
import { Stalls } from './stalls';
import { speech, tone } from './signals';
import { downloadTrack } from './take-files';
import { bestToneDb } from './tones';

const RATE = 48000;
/** A minute here; `npm run soak-devices` takes ten. */
const SECONDS = 60 * Number(process.env.SOAK_MINUTES ?? 1);
/** Breaks of each that no stall explains. In a minute beside everything that `npm test` runs it is no measure, and says whether it breaks all the time. */
const MOST_UNEXPLAINED = SECONDS > 60 ? 1 : 3;
/** So long the clocks may take to be known. */
const SETTLING_SECONDS = 40;
const FAR_PPM = 300;
/** A clock is noticed within a minute; how far off it is takes longer to know: ten milliseconds that a machine stood still are 170 ppm of a minute. */
const KNOWN_PPM = 80;
const STOOD_STILL_PPM = 10_000 / SECONDS;
/** A break of an input is on its track, and this long before or after it at every output but its owner's: the clock on the screen has whole seconds. */
const SAME_MS = 1200;
/** What breaks before the mixes is heard everywhere within this time: outputs are differently late. */
const TOGETHER_MS = 500;
const HOST_HZ = 440;
const PEOPLE = [
  { name: 'Anna', hz: 620, into: 'blue', out: 'green' },
  { name: 'Bela', hz: 830, into: 'red', out: 'white' },
  { name: 'Cleo', hz: 1070, into: 'black', out: 'grey' },
];
const OUTLETS = ['hall', 'stream', 'booth', 'lobby'];

interface LineFacts {
  /** When it was read, by the recording's own clock. */
  atSeconds: number;
  ppm: number | null;
  /** Samples taken out, or (below 0) put in. */
  evened: number;
  dropOuts: number;
  returnDropOuts: number;
}

/** What the panel of a line says of what comes in. */
async function readLine({ host, page }: Machine, name: string): Promise<LineFacts> {
  // Behind the panel nothing else can be read.
  const atSeconds = await host.recordedSeconds();
  await host.lane(name).getByRole('button', { name: `Line of ${name}` }).click();
  const panel = page.getByRole('dialog', { name: new RegExp(`^${name}`) });
  const words = await panel.innerText();
  await panel.getByRole('button', { name: 'Close' }).click();
  const [, clock] = /Clock against the desk’s\s+(.*)/.exec(words)!;
  const ppm = /(\d+) ppm (fast|slow)/.exec(clock);
  const dropOuts = /Drop-outs\s+(\d+)(?:, \d+ ms lost)?\s+(\d+)/.exec(words)!;
  const evened = /Evened out\s+(\d+) samples( put in)?/.exec(words)!;
  return {
    atSeconds,
    ppm: ppm ? Number(ppm[1]) * (ppm[2] === 'fast' ? 1 : -1) : clock.startsWith('the same') ? 0 : null,
    evened: Number(evened[1]) * (evened[2] ? -1 : 1),
    dropOuts: Number(dropOuts[1]),
    returnDropOuts: Number(dropOuts[2]),
  };
}

/** The recording's clock by the test's own: a machine that stands still loses time of the one and not of the other. */
class RecordedClock {
  readonly #turns: { atMs: number; seconds: number }[] = [];

  /** Reads the clock on the screen; what it shows is noted when it turns. */
  async read(host: Host): Promise<number> {
    const seconds = await host.recordedSeconds();
    if (seconds !== this.#turns.at(-1)?.seconds) this.#turns.push({ atMs: performance.now(), seconds });
    return seconds;
  }

  /** When a moment of the recording was, `performance.now()`. */
  timeOf(seconds: number): number {
    const { atMs, seconds: turned } = this.#turns.findLast((one) => one.seconds <= seconds) ?? this.#turns[0];
    return atMs + 1000 * (seconds - turned);
  }
}

async function addOutlet(page: Page, label: string): Promise<void> {
  const outlets = page.getByRole('region', { name: 'Outlets' });
  await outlets.getByLabel('leaves by').selectOption({ label });
  await outlets.getByRole('button', { name: 'Add the outlet' }).click();
}

// Every far end and every ear run on the same two processors. What a device has left to play must outlast what they take from one another.
test.use({ piece: 4096 });

test('four outlets and three returns at once, one far end with a clock of its own and one at another rate: what was sent arrives', async ({ machine }) => {
  test.setTimeout(1000 * (1.5 * SECONDS + 240));
  const { sound, host, page } = machine;
  for (const cable of ['white', 'black', 'grey']) sound.addCable(cable, `${cable} cable`);
  for (const cable of ['blue', 'green']) sound.addForeignCable(cable, `${cable} cable`, FAR_PPM);
  sound.addCable('red', 'red cable', 44100);
  for (const outlet of OUTLETS) sound.addOutput(outlet, `${outlet} outlet`);
  await makeEpisode(host, 'All afternoon', []);
  await chooseMySound(machine);
  for (const { name, into, out } of PEOPLE) {
    const talking = sound.play(into, speech(7, 30));
    expect(await addLine(machine, name, `${into} cable (in)`, `${out} cable`)).toContain('Connected both ways');
    talking.stop();
  }
  await host.openInAndOut();
  for (const outlet of OUTLETS) await addOutlet(page, `${outlet} outlet`);
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  const long = SECONDS + SETTLING_SECONDS + 180;
  sound.play('mouth', tone(HOST_HZ, long));
  for (const { into, hz } of PEOPLE) sound.play(into, tone(hz, long));
  const stalls = new Stalls();
  await host.record();
  await host.untilRecorded(SETTLING_SECONDS);

  // Breaks on tracks and in what was heard are put side by side.
  const clock = new RecordedClock();
  const before = new Map<string, LineFacts>();
  for (const { name } of PEOPLE) before.set(name, await readLine(machine, name));
  const from = await host.recordedSeconds();
  const ears = [
    ...PEOPLE.map(({ name, out, hz }) => ({ where: `${name}’s return`, owner: name, tones: [HOST_HZ, ...PEOPLE.map((one) => one.hz)].filter((one) => one !== hz), ear: sound.record(out) })),
    ...OUTLETS.map((where) => ({ where, owner: null, tones: [HOST_HZ, ...PEOPLE.map(({ hz }) => hz)], ear: sound.record(where) })),
  ];
  await expect.poll(() => clock.read(host), { timeout: 1000 * (1.5 * SECONDS + 60), intervals: [250] }).toBeGreaterThanOrEqual(from + SECONDS);
  const recorded = ears.map((one) => ({ ...one, samples: one.ear.stop() }));
  const after = new Map<string, LineFacts>();
  for (const { name } of PEOPLE) after.set(name, await readLine(machine, name));
  await host.stop();
  stalls.stop();
  // Only now: to look for breaks keeps a processor busy for seconds, and would make some.
  const found = recorded.map(({ where, owner, tones, ear, samples }) => ({
    where,
    owner,
    seconds: samples.length / RATE,
    at: breaks(samples.subarray(RATE / 2), tones).map((place) => ear.timeOf(place + RATE / 2, samples.length)),
  }));
  await host.openNewestTake();
  const tracks = [];
  const breaksOn = (track: Float32Array, hz: number, fromSeconds: number): number[] => breaks(track, [hz]).map((place) => clock.timeOf(fromSeconds + place / RATE));
  // The host comes by a device too, and is heard everywhere.
  const { atSeconds: lookedFrom } = before.get(PEOPLE[0].name)!;
  const inputBreaks = breaksOn((await downloadTrack(page, 'Maren Sollis')).subarray(Math.round(lookedFrom * RATE), Math.round(after.get(PEOPLE[0].name)!.atSeconds * RATE)), HOST_HZ, lookedFrom);
  const hostUnexplained = inputBreaks.filter((time) => !stalls.explains(time, SAME_MS)).length;
  for (const { name, hz } of PEOPLE) {
    const [begin, end] = [before.get(name)!, after.get(name)!];
    const track = (await downloadTrack(page, name)).subarray(Math.round(begin.atSeconds * RATE), Math.round(end.atSeconds * RATE));
    const times = breaksOn(track, hz, begin.atSeconds);
    inputBreaks.push(...times);
    tracks.push({ name, levelDb: bestToneDb(track.subarray(0, 10 * RATE), hz), ...end, breaks: times.length, unexplained: times.filter((time) => !stalls.explains(time, SAME_MS)).length, evenedMeanwhile: end.evened - begin.evened, sentMoreThanKept: Math.round(samplesMore(track, hz)) });
  }
  // What breaks in one input is heard at every output but its owner's: a drop-out of the input, and not one of each.
  const isInputs = (time: number): boolean => inputBreaks.some((one) => Math.abs(one - time) < SAME_MS);
  // By the ear that is surer than by the recording's clock, which itself loses time where the machine stands still.
  const inputOf = (time: number): string | null => {
    const silent = found.filter(({ at }) => !at.some((one) => Math.abs(one - time) < TOGETHER_MS));
    return silent.length === 1 ? silent[0].owner : null;
  };
  const isSomebodys = (time: number): boolean => inputOf(time) !== null;
  const isOwn = (time: number): boolean => !stalls.explains(time) && !isInputs(time) && !isSomebodys(time);
  const heard = found.map(({ where, seconds, at }) => ({ where, seconds, dropOuts: at.length, unexplained: at.filter(isOwn).length, hitchesMs: at.filter(isOwn).map((time) => stalls.longestAbout(time)), whenMs: at.filter(isOwn).map(Math.round) }));
  // Heard at an outlet, which all inputs reach.
  const heardOf = (name: string): number => Math.max(...found.filter(({ owner }) => owner === null).map(({ at }) => at.filter((time) => inputOf(time) === name).length));
  const figures = { seconds: SECONDS, stalls: stalls.summary(), heard, hostUnexplained, tracks };
  mkdirSync('test-results', { recursive: true });
  writeFileSync('test-results/soak-devices.json', JSON.stringify(figures, null, 2));
  console.log(JSON.stringify(figures));

  for (const { where, seconds, unexplained: own } of heard) {
    expect(seconds, `${where} is heard all the time`).toBeGreaterThan(SECONDS - 2);
    expect(own, `drop-outs of ${where} that no stall of the machine explains`).toBeLessThanOrEqual(MOST_UNEXPLAINED);
  }
  expect(hostUnexplained, 'drop-outs of the host’s microphone that no stall of the machine explains').toBeLessThanOrEqual(MOST_UNEXPLAINED);
  for (const { name, levelDb, ppm, unexplained, dropOuts, breaks: broken, evenedMeanwhile, sentMoreThanKept } of tracks) {
    expect(heardOf(name), `what all but ${name} heard break is on ${name}’s track`).toBeLessThanOrEqual(broken);
    expect(unexplained, `drop-outs of ${name}’s input that no stall of the machine explains`).toBeLessThanOrEqual(MOST_UNEXPLAINED);
    expect(Math.abs((ppm ?? NaN) - (name === 'Anna' ? FAR_PPM : 0)), `the clock of ${name}’s device`).toBeLessThan(KNOWN_PPM + STOOD_STILL_PPM * (1 + dropOuts - before.get(name)!.dropOuts));
    expect(Math.abs(levelDb + 20), `the level on ${name}’s track`).toBeLessThan(1);
    // A tone that was broken has no phase to count by.
    const whole = dropOuts === before.get(name)!.dropOuts;
    // Whoever plays at the far end breaks off by itself in a stall.
    if (whole) expect(unexplained, `${name}’s track has no break that neither the line nor a stall explains`).toBe(0);
    // The two are read to a second, in which a busy machine evens out a hundred samples and more.
    if (whole) expect(Math.abs(sentMoreThanKept - evenedMeanwhile), `${name}: what was sent and not kept is what was evened out`).toBeLessThan(300);
  }
});
