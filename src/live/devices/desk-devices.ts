import type { DeviceChoices, InputChoice, OutletChoice } from '@/core/devices/choices';
import { inputOf, voiceOf, type ListenerId, type SourceId } from '@/core/hearing/ids';
import { sourceOfLine } from '@/core/hearing/seats';
import { areOneCable, outletOfLine, type Wiring } from '@/core/hearing/wiring';
import type { WiringChange } from '@/core/hearing/audit/finding';
import type { GapCause } from '@/core/takes/gaps';
import type { Own, PluggedSlice } from '../desk/desk-state';
import type { Patchbay } from '../patch/patchbay';
import { GLITCHES, STILL, type SoundRing } from '@/core/dsp/sound-ring';
import { CLOCK, type StatusBoard } from '../worklet/status-board';
import { DeviceInput } from './device-input';
import { DeskOutlets } from './desk-outlets';
import { DeviceOwner } from './device-owner';
import { inputView, outletView } from './device-views';
import { OutputLate } from './output-late';
import type { Outlet } from './outlet';
import { kept, same, sayOfDevice, withoutNumbers } from './plugged-news';
import { PlugChoices } from './plug-choices';
import type { FarEndManner } from './far-end-manner';
import type { PluggedState } from './plugged-state';
import { RackHost } from './rack-host';
import type { Conditions } from '../desk/conditions';

export interface DeskDevicesOptions {
  episode: string;
  store: Own<PluggedSlice>;
  /** What is plugged in where changed: the audit looks again. */
  rewired(): void;
  /** Keeps a source out of every mix, or lets it in again. */
  hold(source: SourceId, held: boolean): void;
  media(source: SourceId, flowing: boolean, agoMs: number, cause: Extract<GapCause, 'device-away' | 'device-late'>): void;
  conditions: Conditions;
}

export interface RunningDesk {
  patchbay: Patchbay;
  context: AudioContext;
  board: StatusBoard;
}

const LOOK_MS = 200;
/** Delays, drifts and counts change all the time, and are shown so often; states at once. */
const SHOW_NUMBERS_MS = 1000;

/**
 * Everything of this desk that comes or goes by a device: the host's own sound, pair lines, inputs and outlets. What is plugged
 * in where is this browser's own and never part of the plan.
 */
export class DeskDevices {
  readonly owner: DeviceOwner;
  readonly rack = new RackHost();
  readonly #options: DeskDevicesOptions;
  readonly #inputs = new Map<SourceId, DeviceInput>();
  readonly #outlets: DeskOutlets;
  #held: ReadonlySet<SourceId> = new Set();
  readonly #plugs: PlugChoices;
  #desk: RunningDesk | null = null;
  #timer: ReturnType<typeof setInterval> | undefined;
  #late = new OutputLate();
  #shownAt = -Infinity;

  constructor(options: DeskDevicesOptions) {
    this.#options = options;
    this.owner = new DeviceOwner(options.conditions);
    this.#plugs = new PlugChoices({ episode: options.episode, store: options.store, owner: this.owner, chosen: () => this.follow() });
    this.#outlets = new DeskOutlets({
      owner: this.owner,
      rack: this.rack,
      plugs: this.#plugs,
      plan: () => this.#plan(),
      patchbay: () => this.#desk?.patchbay ?? null,
      changed: () => this.#publish(),
      conditions: options.conditions,
    });
    this.owner.store.subscribe(() => this.#rewired());
  }

  /** Reads what was chosen in this browser, and begins to look at its devices. */
  open(): void {
    this.owner.open();
    this.#plugs.open();
    this.#rewired();
  }

  close(): void {
    this.end();
    this.owner.close();
  }

  choices(): DeviceChoices {
    return this.#plugs.all;
  }

  inputChoice(source: SourceId): InputChoice | null {
    return this.#plugs.input(source);
  }

  /** The host's microphone is opened by whoever knows about the practice voice. */
  hostInput(changed: (news?: string) => void): DeviceInput {
    return this.#input(voiceOf(this.#plugs.host()), changed);
  }

  /** A call begins: everything that is chosen is plugged in. */
  async begin(desk: RunningDesk): Promise<void> {
    this.#desk = desk;
    this.#late = new OutputLate();
    this.#timer = setInterval(() => this.#look(), LOOK_MS);
    this.follow();
    await this.#outlets.open();
  }

  end(): void {
    clearInterval(this.#timer);
    this.#outlets.close();
    for (const [source, input] of this.#inputs) if (source !== voiceOf(this.#plugs.host())) input.close();
    this.#desk = null;
    this.#publish();
  }

  /** The browser let sound out at last. */
  async resume(): Promise<void> {
    await Promise.all([this.rack.resume(), this.#outlets.resume()]);
  }

  /** The people, inputs or feeds of the plan are others now. */
  follow(): void {
    if (this.#desk) {
      const host = voiceOf(this.#plugs.host());
      for (const source of this.#devicesSources()) if (source !== host) void this.#input(source, (news) => this.#onInput(source, news)).use(this.inputChoice(source));
      for (const [source, input] of this.#inputs) {
        if (source === host || this.#devicesSources().includes(source)) continue;
        input.close();
        this.#options.conditions.end(`device-${source}`);
        this.#inputs.delete(source);
      }
      this.#outlets.follow();
    }
    this.#rewired();
  }

  /** Plugs a source into a device, or (null) out. */
  chooseInput(source: SourceId, choice: Omit<InputChoice, 'source'> | null): void {
    this.#plugs.chooseInput(source, choice);
  }

  /** Plugs a mix into an output, or (null) out. What excludes another use is refused: then the reason comes back. */
  chooseOutlet(id: string, choice: Omit<OutletChoice, 'id'> | null): string | null {
    return this.#plugs.chooseOutlet(id, choice);
  }

  applyWiring(changes: readonly WiringChange[]): void {
    for (const change of changes) {
      if (change.type === 'unplug-outlet') this.chooseOutlet(change.id, null);
      else this.chooseInput(change.source, null);
    }
  }

  /** What a sound that was sent showed: it came back straight (null: it does not any more). */
  cameBack(listener: ListenerId, source: SourceId, found: { gainDb: number; delayMs: number } | null): void {
    this.#plugs.cameBack(listener, source, found);
    this.#rewired();
  }

  setFarEnd(change: Partial<FarEndManner>): void {
    this.rack.setManner(change);
    this.#publish();
  }

  /** While something is measured through devices nobody evens out what came late there. */
  holdStill(still: boolean): void {
    for (const { counters } of this.#rings().values()) Atomics.store(counters, STILL, still ? 1 : 0);
  }

  /** How often each has broken off: sources by their input, listeners by what carries them. */
  breaks(): Map<SourceId | ListenerId, number> {
    return new Map([...this.#rings()].map(([place, { facts }]) => [place, facts[GLITCHES]]));
  }

  #rings(): Map<SourceId | ListenerId, SoundRing> {
    const ends = [...this.#inputs].map(([source, { ring }]): [SourceId | ListenerId, SoundRing | null] => [source, ring]);
    for (const { choice, ring } of this.#outlets.all.values()) ends.push([choice.listener, ring]);
    return new Map(ends.flatMap(([place, ring]) => (ring ? [[place, ring] as const] : [])));
  }

  /** Peak of an input since the last look, linear. */
  inputPeak(source: SourceId): number {
    return this.#inputs.get(source)?.peak() ?? 0;
  }

  outletPeak(id: string): number {
    return this.#outlets.all.get(id)?.peak() ?? 0;
  }

  /** Plays a sound at one outlet alone. False where it is not open. */
  tone(id: string, samples: Float32Array): boolean {
    const outlet = this.#outlets.all.get(id);
    if (outlet?.state !== 'open') return false;
    outlet.tone(samples);
    return true;
  }

  input(source: SourceId): DeviceInput | null {
    return this.#inputs.get(source) ?? null;
  }

  outlet(id: string): Outlet | null {
    return this.#outlets.all.get(id) ?? null;
  }

  /** Sources by device whose sound does not arrive now. */
  silentSources(): { source: SourceId; cause: 'not-in-call' | 'device-away' }[] {
    const host = voiceOf(this.#plugs.host());
    return [...this.#inputs]
      .filter(([source, input]) => source !== host && input.state !== 'open')
      .map(([source, input]) => ({ source, cause: input.state === 'away' ? 'device-away' : 'not-in-call' }));
  }

  wiring(): Wiring {
    return this.#plugs.wiring();
  }

  #plan() {
    return this.#options.store.getState().plan;
  }

  #devicesSources(): SourceId[] {
    return [...this.#plugs.pairs().map(sourceOfLine), ...this.#plan().inputs.map(({ id }) => inputOf(id))];
  }

  #input(source: SourceId, changed: (news?: string) => void): DeviceInput {
    const had = this.#inputs.get(source);
    if (had) return had;
    const input = new DeviceInput({
      source,
      owner: this.owner,
      rack: this.rack,
      patchbay: () => this.#desk,
      changed: (news) => {
        changed(news);
        this.#publish();
      },
      media: (flowing, agoMs, cause) => this.#options.media(source, flowing, agoMs, cause),
    });
    this.#inputs.set(source, input);
    return input;
  }

  #onInput(source: SourceId, news?: string): void {
    const seat = this.#plugs.pairs().find((one) => sourceOfLine(one) === source);
    const name = seat?.name ?? this.#plan().inputs.find(({ id }) => inputOf(id) === source)?.name ?? 'A source';
    const state = this.#inputs.get(source)?.state;
    const rest = state === 'away' ? 'The track is silent meanwhile; everything else goes on. It is taken up by itself when it is back.' : 'Nothing else was touched.';
    if (news) sayOfDevice(this.#options.conditions, source, state, `${name}: the input ${news}. ${rest}`);
  }

  /** What is one cable at both ends of a line is kept shut. */
  #rewired(): void {
    const wiring = this.wiring();
    const looped = new Set(
      this.#plugs.pairs().flatMap((seat) => {
        const input = wiring.inputs.find(({ source }) => source === sourceOfLine(seat));
        const outlet = wiring.outlets.find(({ id }) => id === outletOfLine(seat.id));
        return input && outlet && areOneCable(input, outlet, wiring.cameBack) ? [input.source] : [];
      }),
    );
    const before = this.#held;
    this.#held = looped;
    for (const source of looped) if (!before.has(source)) this.#options.hold(source, true);
    for (const source of before) if (!looped.has(source)) this.#options.hold(source, false);
    this.#options.rewired();
    this.#publish();
  }


  /** Whether a line is kept shut. */
  isLooped(source: SourceId): boolean {
    return this.#held.has(source);
  }

  #look(): void {
    const clock = this.#desk?.board.clocks[CLOCK] ?? 0;
    const lateMs = this.#desk ? this.#late.read(this.#desk.context) : NaN;
    for (const input of this.#inputs.values()) input.look(clock, lateMs);
    for (const outlet of this.#outlets.all.values()) outlet.look(lateMs);
    this.#publish();
  }

  #publish(): void {
    const { store } = this.#options;
    const inputs = Object.fromEntries([...this.#inputs].map(([source, input]) => [source, inputView(input)]));
    const outlets = Object.fromEntries([...this.#outlets.all].map(([id, outlet]) => [id, outletView(outlet, this.owner)]));
    const next: PluggedState = { devices: this.owner.store.getState(), choices: this.#plugs.all, inputs, outlets, cameBack: this.#plugs.everCameBack, farEnd: this.rack.manner() };
    // All of it is looked at several times a second; what is the same must not be drawn again.
    const before = store.getState().plugged;
    if (same(before, next)) return;
    if (same(withoutNumbers(before), withoutNumbers(next)) && performance.now() - this.#shownAt < SHOW_NUMBERS_MS) return;
    this.#shownAt = performance.now();
    store.setState({ plugged: { ...next, inputs: kept(before.inputs, inputs), outlets: kept(before.outlets, outlets) } });
  }
}
