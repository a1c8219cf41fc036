import { madeUpName } from '@/core/devices/device';
import type { OutletChoice } from '@/core/devices/choices';
import { FIRST_MARGIN_SECONDS, PATIENT_MARGIN_SECONDS } from '@/core/dsp/clock-bridge';
import { GLITCHES, newSoundRing, PEAK, RATE, READER_LATE_MS, WAITING, WRITER_LATE_MS, type SoundRing } from '@/core/dsp/sound-ring';
import { isPersonal } from '@/core/hearing/ids';
import { MOST_OFFSET_MS } from '@/core/hearing/source-treatment';
import type { RackDevice } from '@/core/practice/rack';
import type { Patchbay, Unplug } from '../patch/patchbay';
import { OUTLET_PROCESSOR, type OutletOptions, type ToOutlet } from '../worklet/outlet-messages';
import type { DeviceOwner } from './device-owner';
import { pause } from '../pause';
import { inTurn } from '../in-turn';
import { createGapReader, type PlaybackGaps } from '../playback-gaps';
import { getRunning } from '../running-sound';
import { canChooseOutputs, DESK_RATE, openContext } from './open-context';
import { OutputLate } from './output-late';
import type { RackHost } from './rack-host';

export type OutletState = 'closed' | 'opening' | 'open' | 'away' | 'blocked' | 'refused';

export interface OutletParts {
  owner: DeviceOwner;
  rack: RackHost;
  patchbay(): Patchbay | null;
  changed(news?: string): void;
}

/** A device that has just come back is listed before it can be opened. */
const TRIES = 5;
const TRY_AGAIN_MS = 250;
/** Different streams that are asked for in turn. */
const MOST_WISHES = 8;

type Movable = AudioContext & { sinkId: string; setSinkId(id: string): Promise<void> };

/** @throws {DOMException} when the device cannot be had */
async function moveTo(context: AudioContext, deviceId: string): Promise<void> {
  const movable = context as Movable;
  for (let tries = 1; ; tries++) {
    try {
      await movable.setSinkId(deviceId);
      if (movable.sinkId === deviceId) return;
      throw new Error('the browser chose another output');
    } catch (error) {
      if (tries === TRIES) throw error;
      await pause(TRY_AGAIN_MS);
    }
  }
}

/**
 * Where a mix leaves: one output, with a context and a clock of its own. When the device goes it is closed at once, for a
 * system may send its sound to another device; when it is back it is opened again.
 */
export class Outlet {
  readonly #parts: OutletParts;
  #choice: OutletChoice;
  #state: OutletState = 'closed';
  #ring: SoundRing = newSoundRing();
  #context: AudioContext | null = null;
  #late = new OutputLate();
  #deviceGaps: () => PlaybackGaps | null = () => null;
  #node: AudioWorkletNode | null = null;
  #delay: DelayNode | null = null;
  #unplug: Unplug | null = null;
  #unrack: (() => void) | null = null;
  #unwatch: (() => void) | null = null;
  readonly #unsubscribe: () => void;
  #reason = '';
  #turn = 0;
  /** How often the device was pulled out. */
  #losses = 0;
  #closed = false;

  constructor(choice: OutletChoice, parts: OutletParts) {
    this.#choice = choice;
    this.#parts = parts;
    this.#unsubscribe = parts.owner.store.subscribe(() => this.#follow());
  }

  get choice(): OutletChoice {
    return this.#choice;
  }

  get state(): OutletState {
    return this.#state;
  }

  get reason(): string {
    return this.#reason;
  }

  get ring(): SoundRing | null {
    return this.#state === 'open' ? this.#ring : null;
  }

  /** How often it broke off since it was opened: nothing was there to play, or the device was not given it in time. */
  dropOuts(): number {
    return this.#state === 'open' ? this.#ring.facts[GLITCHES] + (this.#deviceGaps()?.events ?? 0) : 0;
  }

  /** From the desk to the air, ms: what waits, what the browser says of the device, and the offset. */
  delayMs(): number {
    const { baseLatency = 0, outputLatency = 0 } = this.#context ?? {};
    return this.#ring.facts[WAITING] / 48 + 1000 * (baseLatency + outputLatency) + this.#choice.offsetMs;
  }

  /** Says how both clocks stand: the desk's, and that of its own device. */
  look(deskLateMs: number): void {
    this.#ring.facts[WRITER_LATE_MS] = deskLateMs;
    this.#ring.facts[READER_LATE_MS] = this.#context ? this.#late.read(this.#context) : NaN;
  }

  peak(): number {
    const peak = this.#ring.facts[PEAK];
    this.#ring.facts[PEAK] = 0;
    return this.#state === 'open' ? peak : 0;
  }

  /** Opens it; the browser may want a press of a button first, and then it is `blocked`. */
  open(): Promise<void> {
    const turn = ++this.#turn;
    return inTurn(() => this.#open(turn));
  }

  async resume(): Promise<void> {
    if (this.#state !== 'blocked' || !this.#context) return;
    await this.#context.resume();
    if (this.#context?.state === 'running') this.#to('open');
  }

  /** Another offset or other channels, without a break; another device by closing and opening. */
  change(choice: OutletChoice): void {
    const before = this.#choice;
    this.#choice = choice;
    if (choice.device !== before.device || choice.listener !== before.listener) {
      this.#shut();
      void this.open();
      return;
    }
    this.#say({ type: 'channels', channels: choice.channels });
    if (this.#unrack) this.#parts.rack.offset(choice.id, choice.offsetMs);
    // Ten milliseconds: a jump would click.
    if (this.#delay && this.#context) this.#delay.delayTime.setTargetAtTime(choice.offsetMs / 1000, this.#context.currentTime, 0.01);
  }

  /** Plays a sound at this output alone. */
  tone(samples: Float32Array): void {
    if (this.#unrack) this.#parts.rack.tone(madeUpName(this.#choice.device) as RackDevice, samples);
    else this.#say({ type: 'tone', samples });
  }

  close(): void {
    if (this.#closed) return;
    this.#closed = true;
    this.#unsubscribe();
    this.#shut();
    this.#state = 'closed';
  }

  async #open(turn: number): Promise<void> {
    if (turn !== this.#turn || this.#closed) return;
    const { owner, rack, patchbay } = this.#parts;
    const { device: key, listener, id } = this.#choice;
    const device = key === '' ? null : owner.device(key);
    if (key !== '' && !device?.here) return this.#to('away');
    if (device && !device.simulated && !canChooseOutputs()) {
      this.#reason = 'This browser cannot choose outputs. A current Chromium can.';
      return this.#to('refused');
    }
    this.#to('opening');
    this.#ring = newSoundRing();
    this.#ring.counters[RATE] = DESK_RATE;
    try {
      if (device?.simulated) {
        this.#unrack = rack.play(id, madeUpName(key) as RackDevice, this.#ring);
        rack.offset(id, this.#choice.offsetMs);
      } else await this.#openContext(device?.id ?? '', turn);
    } catch (error) {
      this.#shut();
      this.#reason = `“${owner.nameOf(key)}” could not be opened (${(error as Error).message}). Another program may hold it.`;
      return this.#to('refused');
    }
    if (turn !== this.#turn || this.#closed) return;
    this.#unplug = patchbay()?.carry(listener, this.#ring) ?? null;
    // Only what can be pulled out must be known at once.
    if (device && !device.simulated) this.#unwatch = owner.watch();
    this.#to(this.#context && this.#context.state !== 'running' ? 'blocked' : 'open');
  }

  async #openContext(deviceId: string, turn: number): Promise<void> {
    // Silent and nowhere until the browser has said that it is at the device that was meant, and at no other.
    const context = openContext(deviceId === '' ? '' : { type: 'none' }, { again: this.#losses % MOST_WISHES, patient: this.#patient });
    const stale = (): boolean => turn !== this.#turn || this.#closed;
    try {
      await context.audioWorklet.addModule(new URL('../generated/outlet.worklet.js', import.meta.url));
      if (deviceId !== '') await moveTo(context, deviceId);
      await getRunning(context);
    } catch (error) {
      await context.close().catch(() => undefined);
      throw error;
    }
    if (stale()) return void context.close().catch(() => undefined);
    const marginSeconds = this.#patient ? PATIENT_MARGIN_SECONDS : FIRST_MARGIN_SECONDS;
    const processorOptions: OutletOptions = { ring: this.#ring.memory, channels: this.#choice.channels, marginSeconds };
    const node = new AudioWorkletNode(context, OUTLET_PROCESSOR, { numberOfInputs: 0, outputChannelCount: [2], processorOptions });
    const delay = new DelayNode(context, { maxDelayTime: MOST_OFFSET_MS / 1000 + 0.1, delayTime: this.#choice.offsetMs / 1000 });
    node.connect(delay).connect(context.destination);
    // The device is gone, and the browser would go on at the system's own.
    context.addEventListener('error', () => this.#context === context && this.#gone());
    context.addEventListener('statechange', () => this.#context === context && context.state === 'running' && this.#state === 'blocked' && this.#to('open'));
    [this.#context, this.#node, this.#delay, this.#late] = [context, node, delay, new OutputLate()];
    this.#deviceGaps = createGapReader(context);
  }

  /** Somebody answers what comes by phones and returns; the program and the feeds are only listened to. */
  get #patient(): boolean {
    const { listener } = this.#choice;
    return !isPersonal(listener);
  }

  #follow(): void {
    const key = this.#choice.device;
    if (key === '') return;
    const here = this.#parts.owner.device(key)?.here ?? false;
    if (!here && (this.#state === 'open' || this.#state === 'blocked')) this.#gone();
    if (here && this.#state === 'away') void this.#back();
  }

  #gone(): void {
    this.#losses++;
    this.#shut();
    this.#to('away');
    this.#parts.changed(`“${this.#parts.owner.nameOf(this.#choice.device)}” went away: it was closed at once, and plays nowhere else`);
  }

  async #back(): Promise<void> {
    await this.open();
    if (this.#state === 'open') this.#parts.changed(`“${this.#parts.owner.nameOf(this.#choice.device)}” is back and carries its mix again`);
  }

  /** Silent at once; the rest may take its time. */
  #shut(): void {
    this.#turn++;
    this.#unplug?.();
    this.#unrack?.();
    this.#unwatch?.();
    this.#say({ type: 'close' });
    this.#delay?.disconnect();
    const context = this.#context;
    this.#unplug = this.#unrack = this.#unwatch = this.#context = this.#node = this.#delay = null;
    this.#deviceGaps = () => null;
    if (context) void inTurn(() => context.close().catch(() => undefined));
  }

  #say(message: ToOutlet): void {
    this.#node?.port.postMessage(message);
  }

  #to(state: OutletState): void {
    if (state === this.#state) return;
    this.#state = state;
    this.#parts.changed();
  }
}
