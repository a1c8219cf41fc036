import type { Coupling } from '../coupling';
import { compilePlan, compiledGain } from '../compile';
import { gainToDb } from '../../dsp/decibels';
import { earsOf, phonesOf, voiceOf } from '../ids';
import { dbInWords, listenerName, someInWords, placeName } from '../names';
import { NOTHING_ON_AIR, type OnAir } from '../on-air';
import type { HearingPlan } from '../plan';
import { amiss, withObserved, type Observation } from '../observation';
import { couplingsOf, isWired, NO_WIRING, type Wiring } from '../wiring';
import { deadEnds } from './dead-ends';
import { deviceFindings } from './devices';
import type { Finding, FindingKind } from './finding';
import { originOf, soundGraph, type SoundGraph } from './graph';
import { worstLoops } from './loops';
import { couplingInWords, fixesFor, mistakeOf } from './mistakes';
import { strongestPaths, type SoundPath } from './paths';
import { firstToCome, whatRests } from './resting';
import { measuredFinding } from './crosspoint';
import { stabilityMarginDb } from './stability';

/** Closer to growing than this is called a howl: a turned head or an open door would start it. */
export const HOWL_MARGIN_DB = 3;
/** A delayed copy of oneself above this is heard as an echo. */
export const ECHO_DB = -40;
/** A second path this far below the first is not heard any more. */
const DOUBLE_BELOW_DB = 30;
/** Two arrivals closer than this fuse and sound hollow; later ones are heard apart (Haas, 1951). */
const HOLLOW_MS = 30;
const MOST_LOOPS = 5;
/** What a computer adds between microphone and phones, roughly, ms. */
const THROUGH_COMPUTER_MS = 25;

/** What is known of ways sound takes outside the desk, and how. */
export interface Evidence {
  /** As somebody noted it. */
  noted: number;
  measured: number;
}

export interface Audit extends AuditNow {
  evidence: Evidence;
}

interface AuditNow {
  verdict: 'howl' | 'echo' | 'safe';
  /** How far all outside couplings could rise before sound grows by itself; Infinity without a loop. */
  marginDb: number;
  /** The strongest loops, strongest first. */
  loops: SoundPath[];
  /** Most urgent first. Those the host has accepted are among them. */
  findings: Finding[];
}

/**
 * Everything that is wrong or risky about who hears what, the world outside the desk included: as it is now, with the hands
 * over the plan, and what will be as soon as those who wait are let in and the hands let go. What was measured outside counts
 * in the place of what was noted of the same way.
 */
export function auditPlan(noted: HearingPlan, onAir: OnAir = NOTHING_ON_AIR, wiring: Wiring = NO_WIRING, observations: readonly Observation[] = []): Audit {
  const plan = observations.length === 0 ? noted : { ...noted, couplings: withObserved(noted.couplings, observations) };
  const audit = auditOf(plan, onAir, wiring);
  const measured = amiss(observations).map((one) => measuredFinding(plan, one));
  // What was measured to be wrong is no opinion: it comes before everything that follows from the plan.
  return measured.length === 0 ? audit : { ...audit, findings: [...measured, ...audit.findings] };
}

function auditOf(plan: HearingPlan, onAir: OnAir, wiring: Wiring): Audit {
  const now = auditNow(plan, onAir, wiring);
  const resting = whatRests(plan, onAir);
  if (resting.length === 0) return { ...now, evidence: evidenceOf(plan) };
  const then = auditNow({ ...plan, waiting: [] }, { ...onAir, cough: {}, held: [] }, wiring);
  const known = new Set(now.findings.map(({ key }) => key));
  const soonest = firstToCome((then) => auditNow(...then, wiring).findings, resting, known);
  const later = then.findings
    .filter(({ key, kind }) => !known.has(key) && kind !== 'dead-end')
    .map((finding): Finding => ({ ...soonest(finding), urgent: false }))
    // Two that come true together may begin as one.
    .filter(({ key }, at, all) => all.findIndex((one) => one.key === key) === at);
  return { ...now, findings: [...now.findings, ...later], evidence: evidenceOf(plan) };
}

/** What the audit's verdict rests on besides the plan. */
function evidenceOf({ couplings }: HearingPlan): Evidence {
  const measured = couplings.filter((coupling) => coupling.measured).length;
  return { noted: couplings.length - measured, measured };
}

function auditNow(plan: HearingPlan, onAir: OnAir, wiring: Wiring): AuditNow {
  const graph = soundGraph(plan, onAir, couplingsOf(plan, wiring));
  const hasCouplings = graph.edges.some((edges) => edges.some(({ coupling }) => coupling !== null));
  const marginDb = hasCouplings ? stabilityMarginDb(graph) : Infinity;
  const loops = hasCouplings ? worstLoops(graph, MOST_LOOPS) : [];
  const heard = hasCouplings ? heardAgain(graph) : new Map<string, Harm>();
  const howls = marginDb < HOWL_MARGIN_DB;
  const findings: Finding[] = [];
  for (const harm of heard.values()) {
    // What is plugged in wrongly is said of the devices.
    if (isWired(harm.coupling)) continue;
    const inLoop = howls ? loops.find(({ couplings }) => couplings.includes(harm.coupling)) : undefined;
    if (inLoop) findings.push(howlFinding(plan, harm.coupling, inLoop, marginDb));
    else if (harm.echoes.length > 0) findings.push(echoFinding(plan, harm));
    // Who hears themselves has been said; that all is doubled too only adds words. Not so in one room,
    // where the second arrival comes early enough to sound hollow rather than like an echo.
    const said = (inLoop !== undefined || harm.echoes.length > 0) && harm.coupling.kind !== 'same-room';
    if (harm.doubles.length > 0 && !said) findings.push(doubleFinding(plan, harm));
  }
  if (howls) {
    // A loop may harm nobody by name, with only machines on it; it howls all the same.
    for (const loop of loops.filter(({ gainDb }) => gainDb > -HOWL_MARGIN_DB)) {
      const [coupling] = loop.couplings;
      if (loop.couplings.some(isWired)) continue;
      if (!findings.some(({ kind, key }) => kind === 'howl' && loop.couplings.some(({ id }) => key === `howl/${id}`))) {
        findings.push(howlFinding(plan, coupling, loop, marginDb));
      }
    }
  }
  findings.push(...ownVoiceLate(plan), ...deviceFindings(plan, wiring), ...deadEnds(plan, wiring));
  const rank: Record<FindingKind, number> = { howl: 0, echo: 1, device: 2, 'own-voice-late': 3, double: 4, 'dead-end': 5, crosspoint: 6 };
  findings.sort((a, b) => Number(b.urgent) - Number(a.urgent) || rank[a.kind] - rank[b.kind]);
  const echoes = findings.some(({ kind }) => kind === 'echo') || [...heard.values()].some(({ coupling, echoes: all }) => isWired(coupling) && all.length > 0);
  return { verdict: howls ? 'howl' : echoes ? 'echo' : 'safe', marginDb, loops, findings };
}

interface Double {
  source: string;
  listener: string;
  belowDb: number;
  laterMs: number;
}

/** What one coupling does to people: who hears themselves by it, and what is doubled where. */
interface Harm {
  coupling: Coupling;
  echoes: { who: string; path: SoundPath }[];
  doubles: Double[];
}

function heardAgain(graph: SoundGraph): Map<string, Harm> {
  const harms = new Map<string, Harm>();
  const harmOf = (path: SoundPath): Harm => {
    const coupling = culprit(path.couplings);
    const harm = harms.get(coupling.id) ?? { coupling, echoes: [], doubles: [] };
    harms.set(coupling.id, harm);
    return harm;
  };
  for (const source of graph.sources) {
    const origin = originOf(graph, source);
    const again = strongestPaths(graph, origin, ECHO_DB);
    if (source.kind === 'voice') {
      // Somebody on two lines has two returns; each brings them their other line.
      const path = again.get(graph.indexOf(earsOf(source.seat.id)));
      if (path) harmOf(path).echoes.push({ who: source.name, path });
    }
    for (const listener of graph.listeners) {
      const path = again.get(graph.indexOf(listener.id));
      const place = graph.indexOf(listener.id);
      const first = graph.edges[graph.indexOf(source.id)].find(({ to, coupling }) => to === place && !coupling);
      if (!path || !first) continue;
      const belowDb = gainToDb(first.gain) - path.gainDb;
      if (belowDb > DOUBLE_BELOW_DB) continue;
      harmOf(path).doubles.push({ source: source.name, listener: listenerName(listener), belowDb, laterMs: path.delayMs });
    }
  }
  return harms;
}

/** The one coupling of a path to blame: a wrong routing before an open loudspeaker. */
function culprit(couplings: readonly Coupling[]): Coupling {
  const order: Coupling['kind'][] = ['share-contains', 'far-system', 'other-return', 'output-into-input', 'same-room', 'loudspeakers'];
  return [...couplings].sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind))[0];
}

function howlFinding(plan: HearingPlan, coupling: Coupling, loop: SoundPath, marginDb: number): Finding {
  const margin = marginDb <= 0 ? 'it is howling' : `${dbInWords(marginDb)} more and it howls`;
  return {
    key: `howl/${coupling.id}`,
    kind: 'howl',
    mistake: mistakeOf(plan, coupling),
    urgent: true,
    sentence: `${couplingInWords(plan, coupling)}: a loop at ${dbInWords(loop.gainDb)} every ${Math.round(loop.delayMs)} ms; ${margin}.`,
    path: loop.places,
    gainDb: loop.gainDb,
    delayMs: loop.delayMs,
    noted: loop.couplings.some(({ measured }) => !measured),
    fixes: fixesFor(plan, coupling),
  };
}

function echoFinding(plan: HearingPlan, { coupling, echoes }: Harm): Finding {
  const worst = echoes.reduce((a, b) => (b.path.gainDb > a.path.gainDb ? b : a)).path;
  const whom = someInWords(echoes.map(({ who }) => who));
  const verb = echoes.length === 1 ? 'hears' : 'hear';
  const own = echoes.length === 1 ? (plan.seats.find(({ name }) => name === whom)?.reflexive ?? 'themselves') : 'themselves';
  return {
    key: `echo/${coupling.id}`,
    kind: 'echo',
    mistake: mistakeOf(plan, coupling),
    urgent: true,
    sentence: `${couplingInWords(plan, coupling)}: ${whom} ${verb} ${own} ${dbInWords(worst.gainDb)} after ${Math.round(worst.delayMs)} ms.`,
    path: worst.places,
    gainDb: worst.gainDb,
    delayMs: worst.delayMs,
    noted: worst.couplings.some(({ measured }) => !measured),
    fixes: fixesFor(plan, coupling),
  };
}

function doubleFinding(plan: HearingPlan, { coupling, doubles }: Harm): Finding {
  const worst = doubles.reduce((a, b) => (b.belowDb < a.belowDb ? b : a));
  const sources = [...new Set(doubles.map(({ source }) => source))];
  const listeners = [...new Set(doubles.map(({ listener }) => listener))];
  const manner = worst.laterMs < HOLLOW_MS ? 'which sounds hollow' : 'an echo';
  return {
    key: `double/${coupling.id}`,
    kind: 'double',
    mistake: mistakeOf(plan, coupling),
    urgent: worst.belowDb < 12,
    sentence:
      `${couplingInWords(plan, coupling)}: ${someInWords(sources)} ${sources.length === 1 ? 'arrives' : 'arrive'} twice in ` +
      `${someInWords(listeners)}, the second time ${dbInWords(-worst.belowDb)} and ${Math.round(worst.laterMs)} ms later, ${manner}.`,
    path: [coupling.from, coupling.to],
    gainDb: -worst.belowDb,
    delayMs: worst.laterMs,
    noted: !coupling.measured,
    fixes: fixesFor(plan, coupling),
  };
}

/** The host's own microphone in the host's own phones, by way of the computer. */
function ownVoiceLate(plan: HearingPlan): Finding[] {
  const compiled = compilePlan(plan);
  return plan.seats.flatMap(({ id, role }): Finding[] => {
    const gain = role === 'host' ? compiledGain(compiled, voiceOf(id), phonesOf(id)) : 0;
    if (gain === 0) return [];
    return [
      {
        key: `own-voice-in-phones/${id}`,
        kind: 'own-voice-late',
        mistake: 'own-voice-in-phones',
        urgent: true,
        sentence: `You hear yourself through the computer, typically ${THROUGH_COMPUTER_MS} ms late. Use the direct monitoring of your interface instead.`,
        path: [voiceOf(id), phonesOf(id)],
        gainDb: gainToDb(gain),
        delayMs: THROUGH_COMPUTER_MS,
        noted: true,
        fixes: [
          {
            label: 'Take my voice out of my phones',
            effect: 'Only your own phones change.',
            changes: [{ type: 'close', source: voiceOf(id), listener: phonesOf(id) }],
          },
        ],
      },
    ];
  });
}

/** A path in words: `Odalys → Tomasz’s return → Tomasz’s ears → Tomasz → Odalys’s return`. */
export function pathInWords(plan: HearingPlan, path: readonly string[]): string {
  return path.map((id) => placeName(plan, id)).join(' → ');
}
