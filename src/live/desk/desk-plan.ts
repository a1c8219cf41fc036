import { auditPlan, type PlanChange } from '@/core/hearing/audit/index';
import { compilePlan, type CompiledPlan } from '@/core/hearing/compile';
import { differences } from '@/core/hearing/merge';
import { observeAlso, type Observation } from '@/core/hearing/observation';
import type { HearingPlan } from '@/core/hearing/plan';
import { seatOfPlan, withKeptStrips, withSeats } from '@/core/hearing/seats';
import type { Wiring } from '@/core/hearing/wiring';
import { keepSlots, NoPlaceError, slotsInOrder, type Slots } from '@/core/hearing/slots';
import { MOST_LISTENERS, MOST_SOURCES } from '@/core/limits';
import type { DeskData, DeskSeat } from '@/core/session/desk-data';
import type { Own, PlanSlice } from './desk-state';
import { keptHands } from '@/core/takes/plan-log';
import type { NumberedInForce } from '../recorder/take-recording';
import { createPlanKeeper, type PlanKeeper, type StoredPlan } from './plan-keeper';
import { PlanSteps } from './plan-steps';
import type { Conditions } from './conditions';

/** Room of the engine. */
const MOST_PLACES = { sources: MOST_SOURCES, listeners: MOST_LISTENERS };
/** A caller who is brought up, or taken down, comes and goes in this time. */
const BRING_UP_SECONDS = 0.35;
/** So many changes are named one by one. */
const MOST_NAMED = 3;

interface DeskPlanHearers {
  /** The mixes are others now: the audio thread, its wires and the guests' pages follow. */
  inForce(compiled: CompiledPlan, what: NumberedInForce): void;
  /** Sources and listeners whose places a track records from. */
  pinned(): ReadonlySet<string>;
  /** This window changed the plan, and it comes into force next. */
  changed(plan: HearingPlan, before: HearingPlan): void;
  /** What is plugged in where at this desk. */
  wiring(): Wiring;
  conditions: Conditions;
}

/**
 * The plan of the desk: changed in steps that can be taken back, compiled for the engine, audited on every change,
 * and kept on the server together with what other windows change.
 */
export class DeskPlan {
  readonly #store: Own<PlanSlice>;
  readonly #hearers: DeskPlanHearers;
  readonly #steps: PlanSteps;
  readonly #keeper: PlanKeeper;
  #slots: Slots;
  #compiled: CompiledPlan;
  #inForce: NumberedInForce;

  constructor({ episode, plan, planVersion }: DeskData, store: Own<PlanSlice>, hearers: DeskPlanHearers) {
    this.#store = store;
    this.#hearers = hearers;
    this.#steps = new PlanSteps(store, (changed, rampSeconds) => this.set(changed, rampSeconds));
    this.#slots = slotsInOrder(plan);
    this.#compiled = compilePlan(plan);
    this.#inForce = { number: 0, plan, onAir: store.getState().onAir };
    this.#keeper = createPlanKeeper(episode.id, { version: planVersion, plan }, {
      onState: (planSaving) => store.setState({ planSaving }),
      onMerged: (merged, theirs) => this.#takeIn(merged, theirs),
    });
  }

  /** The plan as the engine has it: which slot is which source and listener. */
  compiled(): CompiledPlan {
    return this.#compiled;
  }

  /** The plan and hands that were last put into force, with their number. */
  inForce(): NumberedInForce {
    return this.#inForce;
  }

  /** The version the server has. */
  version(): number {
    return this.#keeper.version();
  }

  /**
   * Changes the plan: heard within 10 ms, kept on the server a moment later. Changes of one control
   * that follow each other are one step of undo.
   */
  change(change: (plan: HearingPlan) => HearingPlan, control = ''): void {
    this.#steps.change(change, control);
  }

  /** Changes of a fix, a row or a column, as one step. */
  apply(changes: readonly PlanChange[], rampSeconds?: number): void {
    this.#steps.apply(changes, rampSeconds);
  }

  undo(): void {
    this.#steps.undo();
  }

  redo(): void {
    this.#steps.redo();
  }

  /** Opens a waiting caller smoothly into all the right places, or takes one down again. */
  setWaiting(seat: string, waiting: boolean): void {
    this.apply([{ type: waiting ? 'wait' : 'admit', seat }], BRING_UP_SECONDS);
  }

  /** Nobody is in the next call before the host has brought them up. */
  letGuestsWait(): void {
    const { plan } = this.#store.getState();
    const guests = plan.seats.filter(({ role, line }) => role === 'caller' && line === 'link').map(({ id }) => id);
    if (guests.every((id) => plan.waiting.includes(id))) return;
    this.set({ ...plan, waiting: [...new Set([...plan.waiting, ...guests])] });
  }

  /** A change that is no step of the host's: it cannot be taken back. False, and said, where the desk has no room for it. */
  set(plan: HearingPlan, rampSeconds?: number): boolean {
    if (!this.#hasRoom(plan)) return false;
    const { plan: before } = this.#store.getState();
    this.#store.setState({ plan });
    this.#hearers.changed(plan, before);
    this.enforce(rampSeconds);
    this.#keeper.changed(plan);
    return true;
  }

  /** The people are others now. A step back must not bring back somebody who is not there. */
  followSeats(seats: DeskSeat[]): void {
    const { plan } = this.#store.getState();
    this.#store.setState({ past: [], future: [] });
    this.set(withKeptStrips(withSeats(plan, seats.map(seatOfPlan)), plan, seats));
  }

  /** Puts in force, as a step that can be taken back, what an earlier window of this browser changed and could not send. */
  async bringBack(): Promise<void> {
    const change = await this.#keeper.bringBack();
    if (!change) return;
    const { plan: before } = this.#store.getState();
    this.#steps.change(change, '');
    this.#hearers.conditions.begin('unsent', `What was changed here last had not reached the server. This browser kept it, and it is in force again: ${inWords(differences(before, this.#store.getState().plan))}.`);
  }

  /** Goes on from what the server has, without what this window had. */
  adopt(stored: StoredPlan): void {
    this.#keeper.adopt(stored);
    this.#replace(stored.plan);
  }

  /** Looks again at everything that could be wrong: what is plugged in where may have changed, or the plan. */
  auditAgain(): void {
    const { plan, onAir, observations } = this.#store.getState();
    this.#store.setState({ audit: auditPlan(plan, onAir, this.#hearers.wiring(), observations) });
  }

  /** Something was measured: it takes the place of what was measured of the same before, and the audit looks again. */
  observe(newer: readonly Observation[]): void {
    this.#store.setState({ observations: observeAlso(this.#store.getState().observations, newer) });
    this.auditAgain();
  }

  /** Measures that no longer hold. */
  forget(outdated: (observation: Observation) => boolean): void {
    const { observations } = this.#store.getState();
    if (!observations.some(outdated)) return;
    this.#store.setState({ observations: observations.filter((one) => !outdated(one)) });
    this.auditAgain();
  }

  /** Puts the plan into force as it and the host's hands on air are now. */
  enforce(rampSeconds?: number): void {
    const { plan, onAir } = this.#store.getState();
    this.#slots = keepSlots(this.#slots, plan, MOST_PLACES, this.#hearers.pinned());
    this.#compiled = compilePlan(plan, { onAir, slots: this.#slots });
    this.auditAgain();
    // What only the host's phones hear is no other plan for a take.
    const same = plan === this.#inForce.plan && JSON.stringify(keptHands(onAir)) === JSON.stringify(keptHands(this.#inForce.onAir));
    this.#inForce = { number: this.#inForce.number + (same ? 0 : 1), plan, onAir, rampSeconds };
    this.#hearers.inForce(this.#compiled, this.#inForce);
  }

  /** Whether everybody of a plan finds a place; says so where not, before anything is changed. */
  #hasRoom(plan: HearingPlan): boolean {
    try {
      keepSlots(this.#slots, plan, MOST_PLACES, this.#hearers.pinned());
      this.#hearers.conditions.end('room');
      return true;
    } catch (error) {
      if (!(error instanceof NoPlaceError)) throw error;
      this.#hearers.conditions.begin('room', error.message);
      return false;
    }
  }

  /** Sends what is not yet kept. Called when the page is being left. */
  flush(): void {
    this.#keeper.flush();
  }

  /** Steps back from here would undo what others did. */
  #replace(plan: HearingPlan): void {
    if (!this.#hasRoom(plan)) return;
    this.#store.setState({ plan, past: [], future: [] });
    this.enforce();
  }

  /** Another window changed the plan too: both changes are in force now, and the host is told. */
  #takeIn(merged: HearingPlan, theirs: HearingPlan): void {
    const news = differences(this.#store.getState().plan, merged);
    this.#replace(merged);
    const what = news.length > 0 ? inWords(news) : 'nothing you had not changed yourself';
    this.#hearers.conditions.begin('merged', `Another window changed the plan. Taken over from it: ${what}. Yours stayed: ${differences(theirs, merged).length}.`);
  }
}

/** The first few changes, and how many more there are. */
function inWords(changes: readonly string[]): string {
  const more = changes.length > MOST_NAMED ? ` and ${changes.length - MOST_NAMED} more` : '';
  return `${changes.slice(0, MOST_NAMED).join('; ')}${more}`;
}
