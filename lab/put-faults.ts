import { COMPUTER_SHARE } from '../src/core/hearing/computer-share';
import { PROGRAM, phonesOf, returnOf, voiceOf } from '../src/core/hearing/ids';
import { asPlanned } from '../src/core/hearing/observation';
import { simulateCheck, type PutFaults, type PutWay, type SimulatedCheck, type SimulatedCheckOptions } from '../src/core/practice/simulated-check';
import { createRandom, seedFor } from '../src/core/random';

const KINDS = ['loudspeakers', 'loudspeakers', 'other-microphone', 'far-system', 'host-leaks', 'doubled-source', 'swapped', 'dead', 'engine'] as const;

/** What a check said of what was put in. */
export interface Judged {
  /** In words: what was put in and not found, and what was found and not put in. */
  missed: string[];
  imagined: string[];
  found: number;
  /** Of ways back: how far off in dB and ms. */
  levelsOff: number[];
  delaysOff: number[];
  /** Of crosspoints as planned: at the engine, and at the other end of a line; dB. */
  engineOff: number[];
  farOff: number[];
}

/** So many faults of every kind, each at somebody else. */
export function someFaults(callers: number, count: number, seed: number): PutFaults {
  const random = createRandom(seedFor(seed, 'faults'));
  const free = Array.from({ length: callers }, (_, k) => `caller-${k + 1}`);
  const somebody = (): string | undefined => free.splice(random.index(free.length), 1)[0];
  const ways: PutWay[] = [];
  const faults = { ways, swapped: [] as [`return:${string}`, `return:${string}`][], dead: [] as `return:${string}`[], engine: [] as { source: `voice:${string}`; listener: `return:${string}`; gainDb: number | null }[] };
  let [host, share] = [false, false];
  for (let k = 0; k < count; k++) {
    const kind = KINDS[random.index(KINDS.length)];
    const gainDb = -random.between(8, 45);
    const delayMs = random.between(5, 150);
    if (kind === 'host-leaks') {
      if (!host) ways.push({ from: phonesOf('host'), to: voiceOf('host'), gainDb, delayMs: random.between(5, 40), throughRoom: true });
      host = true;
      continue;
    }
    if (kind === 'doubled-source') {
      if (!share) ways.push({ from: PROGRAM, to: COMPUTER_SHARE, gainDb: -random.between(0, 12), delayMs, throughRoom: false });
      share = true;
      continue;
    }
    const who = somebody();
    if (!who) break;
    if (kind === 'loudspeakers') ways.push({ from: returnOf(who), to: voiceOf(who), gainDb, delayMs, throughRoom: true });
    if (kind === 'far-system') ways.push({ from: returnOf(who), to: voiceOf(who), gainDb: -random.between(0, 6), delayMs, throughRoom: false });
    if (kind === 'dead') faults.dead.push(returnOf(who));
    if (kind === 'engine') faults.engine.push({ source: voiceOf('host'), listener: returnOf(who), gainDb: random.next() < 0.4 ? null : -random.between(2, 12) });
    const other = kind === 'other-microphone' || kind === 'swapped' ? somebody() : undefined;
    if (other && kind === 'other-microphone') ways.push({ from: returnOf(who), to: voiceOf(other), gainDb, delayMs, throughRoom: true });
    if (other && kind === 'swapped') faults.swapped.push([returnOf(who), returnOf(other)]);
  }
  return faults;
}

/** Runs a check over a call with faults that are known, and holds what it says against them. */
export function judgeSimulated(options: SimulatedCheckOptions): Judged & { check: SimulatedCheck } {
  const check = simulateCheck(options);
  const { faults } = options;
  const judged: Judged = { missed: [], imagined: [], found: 0, levelsOff: [], delaysOff: [], engineOff: [], farOff: [] };
  const { waysBack, otherMixes, crosspoints, farEnds } = check.found;
  for (const { from, to, gainDb, delaysMs } of check.truth) {
    const way = waysBack.find((one) => one.from === from && one.to === to);
    if (!way) {
      judged.missed.push(`${from} in ${to} at ${gainDb.toFixed(1)} dB`);
      continue;
    }
    judged.found++;
    judged.levelsOff.push(way.gainDb - gainDb);
    judged.delaysOff.push(Math.min(...delaysMs.map((delay) => Math.abs(delay - way.delayMs))));
  }
  for (const { from, to, gainDb } of waysBack) if (!check.truth.some((one) => one.from === from && one.to === to)) judged.imagined.push(`${from} in ${to} at ${gainDb} dB`);
  const swapped = (faults.swapped ?? []).flatMap(([a, b]) => [[a, b], [b, a]]);
  for (const [at, from] of swapped) {
    if (otherMixes.some((one) => one.at === at && one.from === from)) judged.found++;
    else judged.missed.push(`${from} at the end of ${at}`);
  }
  for (const { at, from } of otherMixes) if (!swapped.some(([a, b]) => a === at && b === from)) judged.imagined.push(`${from} at the end of ${at}`);
  for (const listener of faults.dead ?? []) {
    if (farEnds.some((one) => one.listener === listener && one.lineDb === null)) judged.found++;
    else judged.missed.push(`nothing at the end of ${listener}`);
  }
  const touched = new Set<string>([...swapped.flat(), ...(faults.dead ?? [])]);
  for (const { source, listener, plannedDb, engineDb, farDb } of crosspoints) {
    const put = (faults.engine ?? []).some((one) => one.source === source && one.listener === listener);
    const good = asPlanned({ plannedDb, measuredDb: engineDb });
    if (put && good) judged.missed.push(`${source} in ${listener}, otherwise than planned`);
    else if (put) judged.found++;
    else if (!good) judged.imagined.push(`${source} in ${listener}: ${engineDb} instead of ${plannedDb}`);
    else if (plannedDb !== null) judged.engineOff.push(engineDb! - plannedDb);
    if (put || touched.has(listener) || farDb === undefined) continue;
    if (!asPlanned({ plannedDb, measuredDb: farDb })) judged.imagined.push(`${source} at the end of ${listener}: ${farDb} instead of ${plannedDb}`);
    else if (plannedDb !== null) judged.farOff.push(farDb! - plannedDb);
  }
  return { ...judged, check };
}
