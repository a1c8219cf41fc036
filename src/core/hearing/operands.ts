import type { ListenerId, SourceId } from './ids';
import {
  isSound,
  listenerSettings,
  type Crosspoint,
  type HearingPlan,
  type HearingRule,
  type Listener,
  type Seat,
  type Source,
} from './plan';

declare const mayBeHeard: unique symbol;

/**
 * A source that a given listener may hear. Only {@link operandFor} makes one, and it makes none
 * for a caller's own voice in their own return: so no later code can be handed that crosspoint.
 */
export interface Operand {
  readonly source: Source;
  readonly listener: Listener;
  readonly [mayBeHeard]: true;
}

/** Who sits in a seat: somebody on two lines has two seats, and is one person. */
export const personOf = (seat: Seat): string => seat.person ?? seat.id;

/** Whether this is the place where no crosspoint exists: a caller's voice in a return of that caller, by whichever line either comes. */
export function isOwnVoice(source: Source, listener: Listener): boolean {
  return source.kind === 'voice' && listener.kind === 'return' && personOf(source.seat) === personOf(listener.seat);
}

/** Whether talkback would leave the call here, or come back to who talks: no crosspoint exists either. */
export function isPrivateFrom(source: Source, listener: Listener): boolean {
  if (source.kind !== 'talkback') return false;
  if (listener.kind === 'program' || listener.kind === 'feed') return true;
  return personOf(source.seat) === personOf(listener.seat);
}

/** The crosspoint's operand, or null where no crosspoint can exist. */
export function operandFor(source: Source, listener: Listener): Operand | null {
  return isOwnVoice(source, listener) || isPrivateFrom(source, listener) ? null : ({ source, listener } as Operand);
}

/** What the listener's rule says of a source, before any exception. */
export function ruleSays(plan: HearingPlan, operand: Operand): Crosspoint {
  const { source, listener } = operand;
  const { rule } = listenerSettings(plan, listener.id);
  // The host's own voice in the host's own phones arrives late; it is opened by hand or not at all.
  const ownPhones = source.kind === 'voice' && listener.kind === 'phones' && personOf(source.seat) === personOf(listener.seat);
  // Talkback is opened while somebody talks, never by a rule.
  const open = !ownPhones && source.kind !== 'talkback' && ruleOpens(rule, source);
  return { open, gainDb: 0 };
}

function ruleOpens(rule: HearingRule, source: Source): boolean {
  const fromHost = source.kind === 'voice' && source.seat.role === 'host';
  switch (rule) {
    case 'everyone-and-sounds':
      return true;
    case 'everyone':
      return source.kind === 'voice';
    case 'host-and-sounds':
      return fromHost || isSound(source);
    case 'host':
      return fromHost;
    case 'own-choice':
      return false;
  }
}

export function exceptionAt(
  plan: HearingPlan,
  listener: ListenerId,
  source: SourceId,
): Crosspoint | undefined {
  return plan.exceptions[listener]?.[source];
}

/** What the plan says of a crosspoint: its exception where it has one, else its listener's rule. */
export function crosspointOf(plan: HearingPlan, operand: Operand): Crosspoint {
  return exceptionAt(plan, operand.listener.id, operand.source.id) ?? ruleSays(plan, operand);
}
