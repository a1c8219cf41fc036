import type { StoreApi } from 'zustand/vanilla';
import { refusalOf, withInputChoice, withOutletChoice, type DeviceChoices, type InputChoice, type OutletChoice } from '@/core/devices/choices';
import { cableOf, looksLikeLoudspeakers } from '@/core/devices/known-devices';
import { inputOf, phonesOf, voiceOf, type ListenerId, type SourceId } from '@/core/hearing/ids';
import { listenersOf, sourcesOf } from '@/core/hearing/plan';
import { listenerOfLine, sourceOfLine } from '@/core/hearing/seats';
import { areOneCable, outletOfLine, type CameBack, type WiredInput, type WiredOutlet, type Wiring } from '@/core/hearing/wiring';
import type { WiringChange } from '@/core/hearing/audit/finding';
import type { DeskSeat } from '@/core/session/desk-data';
import type { GapCause } from '@/core/takes/gaps';
import type { DeskState } from '../desk/desk-state';
import type { Patchbay } from '../patch/patchbay';
import { CLOCK, type StatusBoard } from '../worklet/status-board';
import { DeviceInput } from './device-input';
import { DeviceOwner, MADE_UP } from './device-owner';
import { inputView, outletView } from './device-views';
import { readChoices, readOwnSound, writeChoices, writeOwnSound } from './kept-choices';
import { OutputLate } from './output-late';
import { Outlet } from './outlet';
import type { FarEndManner } from './far-end-manner';
import { RackHost } from './rack-host';

export interface DeskDevicesOptions {
  episode: string;
  store: StoreApi<DeskState>;
  /** What is plugged in where changed: the audit looks again. */
  rewired(): void;
  /** Keeps a source out of every mix, or lets it in again. */
  hold(source: SourceId, held: boolean): void;
  media(source: SourceId, flowing: boolean, agoMs: number, cause: Extract<GapCause, 'device-away' | 'device-late'>): void;
  trouble(sentence: string): void;
}

export interface RunningDesk {
  patchbay: Patchbay;
  context: AudioContext;
  board: StatusBoard;
}

const LOOK_MS = 200;
export const PHONES_OUTLET = 'phones';

/**
 * Everything of this desk that comes or goes by a device: the host's own sound, pair lines, inputs and outlets. What is plugged
 * in where is this browser's own and never part of the plan.
 */
export class DeskDevices {
  readonly owner: DeviceOwner;
  readonly rack = new RackHost();
  readonly #options: DeskDevicesOptions;
  readonly #inputs = new Map<SourceId, DeviceInput>();
  readonly #outlets = new Map<string, Outlet>();
  readonly #held = new Set<SourceId>();
  #desk: RunningDesk | null = null;
  #choices: DeviceChoices = { inputs: [], outlets: [] };
  #cameBack: CameBack[] = [];
  #timer: ReturnType<typeof setInterval> | undefined;
  #late = new OutputLate();

  constructor(options: DeskDevicesOptions) {
    this.#options = options;
    this.owner = new DeviceOwner(options.trouble);
    this.owner.store.subscribe(() => this.#rewired());
  }

  /** Reads what was chosen in this browser, and begins to look at its devices. */
  open(): void {
    this.owner.open();
    this.#choices = this.#startChoices();
    this.#rewired();
  }

  close(): void {
    this.end();
    this.owner.close();
  }

  choices(): DeviceChoices {
    return this.#choices;
  }

  inputChoice(source: SourceId): InputChoice | null {
    return this.#choices.inputs.find((one) => one.source === source) ?? null;
  }

  /** The host's microphone is opened by whoever knows about the practice voice. */
  hostInput(changed: (news?: string) => void): DeviceInput {
    return this.#input(voiceOf(this.#host()), changed);
  }

  /** A call begins: everything that is chosen is plugged in. */
  async begin(desk: RunningDesk): Promise<void> {
    this.#desk = desk;
    this.#late = new OutputLate();
    this.#timer = setInterval(() => this.#look(), LOOK_MS);
    this.follow();
    await Promise.all([...this.#outlets.values()].map((outlet) => outlet.open()));
  }

  end(): void {
    clearInterval(this.#timer);
    for (const outlet of this.#outlets.values()) outlet.close();
    this.#outlets.clear();
    for (const [source, input] of this.#inputs) if (source !== voiceOf(this.#host())) input.close();
    this.#desk = null;
    this.#publish();
  }

  /** The browser let sound out at last. */
  async resume(): Promise<void> {
    await Promise.all([this.rack.resume(), ...[...this.#outlets.values()].map((outlet) => outlet.resume())]);
  }

  /** The people, inputs or feeds of the plan are others now. */
  follow(): void {
    if (this.#desk) {
      const host = voiceOf(this.#host());
      for (const source of this.#devicesSources()) if (source !== host) void this.#input(source, (news) => this.#onInput(source, news)).use(this.inputChoice(source));
      for (const [source, input] of this.#inputs) {
        if (source === host || this.#devicesSources().includes(source)) continue;
        input.close();
        this.#inputs.delete(source);
      }
      this.#followOutlets();
    }
    this.#rewired();
  }

  /** Plugs a source into a device, or (null) out. */
  chooseInput(source: SourceId, choice: Omit<InputChoice, 'source'> | null): void {
    this.#choices = withInputChoice(this.#choices, source, choice);
    this.#cameBack = this.#cameBack.filter((one) => one.source !== source);
    if (source === voiceOf(this.#host())) writeOwnSound({ ...readOwnSound(), microphone: choice?.device ?? null });
    this.#chosen();
  }

  /** Plugs a mix into an output, or (null) out. What excludes another use is refused: then the reason comes back. */
  chooseOutlet(id: string, choice: Omit<OutletChoice, 'id'> | null): string | null {
    const refusal = choice && refusalOf(this.#choices, { id, ...choice });
    if (refusal) return refusal;
    this.#choices = withOutletChoice(this.#choices, id, choice);
    this.#cameBack = choice ? this.#cameBack.filter((one) => one.listener !== choice.listener) : this.#cameBack;
    if (id === PHONES_OUTLET) writeOwnSound({ ...readOwnSound(), phones: choice?.device ?? null });
    this.#chosen();
    return null;
  }

  applyWiring(changes: readonly WiringChange[]): void {
    for (const change of changes) {
      if (change.type === 'unplug-outlet') this.chooseOutlet(change.id, null);
      else this.chooseInput(change.source, null);
    }
  }

  /** What a sound that was sent showed: it came back straight (null: it does not any more). */
  cameBack(listener: ListenerId, source: SourceId, found: { gainDb: number; delayMs: number } | null): void {
    this.#cameBack = [...this.#cameBack.filter((one) => one.source !== source || one.listener !== listener), ...(found ? [{ listener, source, ...found }] : [])];
    this.#rewired();
  }

  setFarEnd(change: Partial<FarEndManner>): void {
    this.rack.setManner(change);
    this.#publish();
  }

  /** Peak of an input since the last look, linear. */
  inputPeak(source: SourceId): number {
    return this.#inputs.get(source)?.peak() ?? 0;
  }

  outletPeak(id: string): number {
    return this.#outlets.get(id)?.peak() ?? 0;
  }

  /** Plays a sound at one outlet alone. False where it is not open. */
  tone(id: string, samples: Float32Array): boolean {
    const outlet = this.#outlets.get(id);
    if (outlet?.state !== 'open') return false;
    outlet.tone(samples);
    return true;
  }

  input(source: SourceId): DeviceInput | null {
    return this.#inputs.get(source) ?? null;
  }

  outlet(id: string): Outlet | null {
    return this.#outlets.get(id) ?? null;
  }

  /** Sources by device whose sound does not arrive now. */
  silentSources(): { source: SourceId; cause: 'not-in-call' | 'device-away' }[] {
    const host = voiceOf(this.#host());
    return [...this.#inputs]
      .filter(([source, input]) => source !== host && input.state !== 'open')
      .map(([source, input]) => ({ source, cause: input.state === 'away' ? 'device-away' : 'not-in-call' }));
  }

  wiring(): Wiring {
    const known = (key: string) => this.owner.device(key);
    const of = (key: string) => {
      const device = known(key);
      return { device: key, name: this.owner.nameOf(key), cable: device ? cableOf(device) : null, here: device?.here ?? false };
    };
    const there = new Set<string>([...sourcesOf(this.#plan()), ...listenersOf(this.#plan())].map(({ id }) => id));
    return {
      known: this.#options.store.getState().place === 'desk',
      inputs: this.#choices.inputs.filter(({ source }) => there.has(source)).map((one): WiredInput => ({ source: one.source, channels: one.channels, ...of(one.device) })),
      outlets: this.#choices.outlets.filter(({ listener }) => there.has(listener)).map((one): WiredOutlet => {
        const device = known(one.device);
        return { id: one.id, listener: one.listener, channels: one.channels, loudspeakers: device !== null && looksLikeLoudspeakers(device), ...of(one.device) };
      }),
      cameBack: this.#cameBack,
    };
  }

  #plan() {
    return this.#options.store.getState().plan;
  }

  #host(): string {
    return this.#options.store.getState().seats.find(({ role }) => role === 'host')?.id ?? '';
  }

  #pairs(): DeskSeat[] {
    return this.#options.store.getState().seats.filter(({ line, role }) => line === 'pair' && role !== 'host');
  }

  #devicesSources(): SourceId[] {
    return [...this.#pairs().map(sourceOfLine), ...this.#plan().inputs.map(({ id }) => inputOf(id))];
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
    const seat = this.#pairs().find((one) => sourceOfLine(one) === source);
    const name = seat?.name ?? this.#plan().inputs.find(({ id }) => inputOf(id) === source)?.name ?? 'A source';
    if (news) this.#options.trouble(`${name}: the input ${news}. ${news.includes('away') ? 'The track is silent meanwhile; everything else goes on. It is taken up by itself when it is back.' : 'Nothing else was touched.'}`);
  }

  /** Every outlet that is chosen, and no other: those of lines that are gone are closed. */
  #followOutlets(): void {
    const lines = new Set(this.#pairs().map(({ id }) => outletOfLine(id)));
    const there = new Set<string>(listenersOf(this.#plan()).map(({ id }) => id));
    const phones: OutletChoice = { id: PHONES_OUTLET, listener: phonesOf(this.#host()), device: '', channels: 'stereo', offsetMs: 0 };
    const wanted = this.#choices.outlets.filter(({ id, listener }) => there.has(listener) && (!id.startsWith('line:') || lines.has(id)));
    const all = wanted.some(({ id }) => id === PHONES_OUTLET) ? wanted : [...wanted, phones];
    for (const [id, outlet] of this.#outlets) {
      if (all.some((one) => one.id === id)) continue;
      outlet.close();
      this.#outlets.delete(id);
    }
    for (const choice of all) {
      const outlet = this.#outlets.get(choice.id);
      if (outlet) {
        if (JSON.stringify(outlet.choice) !== JSON.stringify(choice)) outlet.change(choice);
      } else {
        const made = new Outlet(choice, { owner: this.owner, rack: this.rack, patchbay: () => this.#desk?.patchbay ?? null, changed: (news) => this.#onOutlet(choice.id, news) });
        this.#outlets.set(choice.id, made);
        void made.open();
      }
    }
  }

  #onOutlet(id: string, news?: string): void {
    if (news) this.#options.trouble(`${this.#outletName(id)}: the output ${news}. Nothing else was touched.`);
    this.#publish();
  }

  #outletName(id: string): string {
    if (id === PHONES_OUTLET) return 'Your phones';
    const seat = this.#pairs().find((one) => outletOfLine(one.id) === id);
    if (seat) return `${seat.name}’s return`;
    const listener = this.#choices.outlets.find((one) => one.id === id)?.listener;
    const feed = this.#plan().feeds.find((one) => `feed:${one.id}` === listener);
    return feed ? `The feed “${feed.name}”` : 'The program';
  }

  /** From what this browser kept; the demo's line by another program begins on made-up cables. */
  #startChoices(): DeviceChoices {
    const own = readOwnSound();
    let choices = readChoices(this.#options.episode) ?? { inputs: [], outlets: [] };
    const host = this.#host();
    const [voice, phones] = [voiceOf(host), phonesOf(host)];
    if (own.microphone && !choices.inputs.some(({ source }) => source === voice)) choices = withInputChoice(choices, voice, { device: own.microphone, channels: 'left' });
    if (own.phones && !choices.outlets.some(({ id }) => id === PHONES_OUTLET)) choices = withOutletChoice(choices, PHONES_OUTLET, { listener: phones, device: own.phones, channels: 'stereo', offsetMs: 0 });
    for (const seat of this.#pairs()) {
      if (!seat.practice || choices.inputs.some(({ source }) => source === sourceOfLine(seat))) continue;
      choices = withInputChoice(choices, sourceOfLine(seat), { device: MADE_UP.input('cable-2'), channels: 'both' });
      choices = withOutletChoice(choices, outletOfLine(seat.id), { listener: listenerOfLine(seat), device: MADE_UP.output('cable-1'), channels: 'stereo', offsetMs: 0 });
    }
    return choices;
  }

  #chosen(): void {
    writeChoices(this.#options.episode, this.#choices);
    this.follow();
  }

  /** What is one cable at both ends of a line is kept shut. */
  #rewired(): void {
    const wiring = this.wiring();
    const looped = new Set(
      this.#pairs().flatMap((seat) => {
        const input = wiring.inputs.find(({ source }) => source === sourceOfLine(seat));
        const outlet = wiring.outlets.find(({ id }) => id === outletOfLine(seat.id));
        return input && outlet && areOneCable(input, outlet, wiring.cameBack) ? [input.source] : [];
      }),
    );
    for (const source of looped) if (!this.#held.has(source)) this.#hold(source, true);
    for (const source of [...this.#held]) if (!looped.has(source)) this.#hold(source, false);
    this.#options.rewired();
    this.#publish();
  }

  #hold(source: SourceId, held: boolean): void {
    if (held) this.#held.add(source);
    else this.#held.delete(source);
    this.#options.hold(source, held);
  }

  /** Whether a line is kept shut. */
  isLooped(source: SourceId): boolean {
    return this.#held.has(source);
  }

  #look(): void {
    const clock = this.#desk?.board.clocks[CLOCK] ?? 0;
    const lateMs = this.#desk ? this.#late.read(this.#desk.context) : NaN;
    for (const input of this.#inputs.values()) input.look(clock, lateMs);
    for (const outlet of this.#outlets.values()) outlet.look(lateMs);
    this.#publish();
  }

  #publish(): void {
    const { store } = this.#options;
    const inputs = Object.fromEntries([...this.#inputs].map(([source, input]) => [source, inputView(input)]));
    const outlets = Object.fromEntries([...this.#outlets].map(([id, outlet]) => [id, outletView(outlet, this.owner)]));
    const next = { devices: this.owner.store.getState(), choices: this.#choices, inputs, outlets, cameBack: this.#cameBack, farEnd: this.rack.manner() };
    // All of it is looked at several times a second; what is the same must not be drawn again.
    const before = store.getState().plugged;
    if (before.devices === next.devices && before.choices === next.choices && JSON.stringify([before.inputs, before.outlets, before.cameBack, before.farEnd]) === JSON.stringify([inputs, outlets, next.cameBack, next.farEnd])) return;
    store.setState({ plugged: next });
  }
}
