import { channelsMeet, type InputChannels, type OutputChannels } from '../devices/device';
import { declareCoupling, type Coupling, type CouplingFrom, type CouplingKind, type CouplingTo } from './coupling';
import { earsOf, isPersonal, phonesOf, voiceOf, type ListenerId, type SeatId, type SourceId } from './ids';
import { sourceOfLine } from './seats';
import { listenersOf, type HearingPlan } from './plan';

/** A use of one of this computer's devices. */
interface Wired {
  device: string;
  /** As the host knows it. */
  name: string;
  /** What its two ends have in common, where it is a cable. */
  cable: string | null;
  here: boolean;
}

/** A source that comes in by a device. */
export interface WiredInput extends Wired {
  source: SourceId;
  channels: InputChannels;
}

/** A mix that leaves by a device. */
export interface WiredOutlet extends Wired {
  id: string;
  listener: ListenerId;
  channels: OutputChannels;
  /** Whether everybody in the room hears it, by its name. */
  loudspeakers: boolean;
}

/** A known sound that was sent to a listener and came back at a source, straight through. */
export interface CameBack {
  listener: ListenerId;
  source: SourceId;
  gainDb: number;
  delayMs: number;
}

/** What is plugged in where, on the computer of the desk: it is no part of the plan, but the audit must know it. */
export interface Wiring {
  /** False in a window that is not the desk: then nothing is said of devices. */
  known: boolean;
  inputs: readonly WiredInput[];
  outlets: readonly WiredOutlet[];
  cameBack: readonly CameBack[];
}

export const NO_WIRING: Wiring = Object.freeze({ known: false, inputs: [], outlets: [], cameBack: [] });

/** Couplings that follow from the wiring have ids of their own. */
const WIRED = 'wired/';
export const isWired = ({ id }: Coupling): boolean => id.startsWith(WIRED);

const wired = (kind: CouplingKind, from: CouplingFrom, to: CouplingTo, change: Partial<Coupling> = {}): Coupling => {
  const coupling = declareCoupling(kind, from, to);
  return { ...coupling, ...change, id: `${WIRED}${coupling.id}` };
};

/** Two that are one cable: what goes into the outlet comes out of the input. */
export const areOneCable = (input: WiredInput, outlet: WiredOutlet, cameBack: readonly CameBack[]): boolean =>
  (input.cable !== null && input.cable === outlet.cable) || cameBack.some(({ source, listener }) => source === input.source && listener === outlet.listener);

/** Whether two sources take the same sound. The two channels of a device with plugs are two ways; a program speaks into both of a cable. */
export function takeTheSame(a: WiredInput, b: WiredInput): boolean {
  const one = (channels: InputChannels) => channels === 'left' || channels === 'right';
  const apart = a.cable === null && one(a.channels) && one(b.channels) && a.channels !== b.channels;
  return a.device === b.device && !apart;
}

/** Whether two mixes meet where they leave. A program at the end of a cable hears both its channels. */
export function leaveTogether(a: WiredOutlet, b: WiredOutlet): boolean {
  const heardAsOne = a.cable !== null && isPersonal(a.listener) && isPersonal(b.listener);
  return a.device === b.device && (heardAsOne || channelsMeet(a.channels, b.channels));
}

/** Each pair of a list once. */
export const pairsOf = <One>(all: readonly One[]): [One, One][] => all.flatMap((a, k) => all.slice(k + 1).map((b): [One, One] => [a, b]));

/** The seat a return belongs to; null for other listeners. */
export function seatOfReturn(plan: HearingPlan, listener: ListenerId): SeatId | null {
  const found = listenersOf(plan).find(({ id }) => id === listener);
  return found?.kind === 'return' ? found.seat.id : null;
}

/** Phones of the host: whatever plays there beside them reaches the host's ears. */
export const hostOf = (plan: HearingPlan): SeatId => plan.seats.find(({ role }) => role === 'host')?.id ?? '';

/** The ways sound takes by what is plugged in where. */
export function couplingsOf(plan: HearingPlan, { known, inputs, outlets, cameBack }: Wiring): Coupling[] {
  if (!known) return [];
  const there = inputs.filter(({ here }) => here);
  const out = outlets.filter(({ here }) => here);
  const host = hostOf(plan);
  const byCable = there.flatMap((input) =>
    out
      .filter((outlet) => areOneCable(input, outlet, cameBack))
      .map((outlet) => {
        const measured = cameBack.find(({ source, listener }) => source === input.source && listener === outlet.listener);
        return wired('output-into-input', outlet.listener, input.source, measured && { gainDb: measured.gainDb, delayMs: measured.delayMs, measured: true, by: 'the proof of the line' });
      }),
  );
  const together = pairsOf(out).filter(([a, b]) => a.listener !== b.listener && leaveTogether(a, b));
  const earsAt = (listener: ListenerId): SeatId | null => (listener === phonesOf(host) ? host : seatOfReturn(plan, listener));
  const shared = together.flatMap(([a, b]) => [[a, b], [b, a]].flatMap(([one, other]) => {
    const ears = earsAt(other.listener);
    return ears === null ? [] : [wired('other-return', one.listener, earsOf(ears), { delayMs: 0 })];
  }));
  const twice = pairsOf(there).filter(([a, b]) => takeTheSame(a, b) && a.source !== b.source);
  const same = twice.flatMap(([a, b]) => [wired('same-room', a.source, b.source, { gainDb: 0, delayMs: 0 }), wired('same-room', b.source, a.source, { gainDb: 0, delayMs: 0 })]);
  const open = there.some(({ source }) => source === voiceOf(host));
  const noted = plan.couplings.some(({ kind, to }) => kind === 'loudspeakers' && to === voiceOf(host));
  const loud = out.some(({ listener, loudspeakers }) => listener === phonesOf(host) && loudspeakers);
  return [...byCable, ...shared, ...same, ...(open && loud && !noted ? [wired('loudspeakers', earsOf(host), voiceOf(host))] : [])];
}

/** The outlet that is the return of a pair line. */
export const outletOfLine = (seat: SeatId): string => `line:${seat}`;

/** Which ends of a pair line are chosen. */
export function endsOf({ inputs, outlets }: Wiring, seat: { id: SeatId; role: 'host' | 'caller' | 'producer' }): { input: boolean; output: boolean } {
  return {
    input: inputs.some(({ source }) => source === sourceOfLine(seat)),
    output: outlets.some(({ id }) => id === outletOfLine(seat.id)),
  };
}
