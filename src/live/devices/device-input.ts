import { madeUpName, type KnownDevice } from '@/core/devices/device';
import type { InputChoice } from '@/core/devices/choices';
import { followTurns, LAST_WRITE_MS, newSoundRing, PEAK, READER_LATE_MS, WAITING, type SoundRing } from '@/core/dsp/sound-ring';
import type { SourceId } from '@/core/hearing/ids';
import type { RackDevice } from '@/core/practice/rack';
import type { Patchbay, Unplug } from '../patch/patchbay';
import type { DeviceOwner } from './device-owner';
import { openCapture, type Capture, type CaptureResult } from './open-capture';
import type { RackHost } from './rack-host';

const SAMPLES_PER_MS = 48;

export type InputState = 'none' | 'opening' | 'open' | 'away' | 'refused';

export interface DeviceInputOptions {
  source: SourceId;
  owner: DeviceOwner;
  rack: RackHost;
  patchbay(): { patchbay: Patchbay; context: AudioContext } | null;
  /** Something about it changed; `news` is for the host. */
  changed(news?: string): void;
  /** Its sound came, or stopped so long ago. */
  media(flowing: boolean, agoMs: number, cause: 'device-away' | 'device-late'): void;
}

/**
 * One source that comes by a device: held by its id, silent and listed while the device is away, taken up again by itself when
 * it is back, and never by another.
 */
export class DeviceInput {
  readonly #options: DeviceInputOptions;
  #choice: Omit<InputChoice, 'source'> | null = null;
  #state: InputState = 'none';
  #reason = '';
  #label = '';
  #capture: Capture | null = null;
  #ring: SoundRing | null = null;
  #unplug: Unplug | null = null;
  #unwatch: (() => void) | null = null;
  #unsubscribe: (() => void) | null = null;
  /** How often its sound was seen to begin and to cease. */
  #turns = 0;
  #turn = 0;

  constructor(options: DeviceInputOptions) {
    this.#options = options;
  }

  get state(): InputState {
    return this.#state;
  }

  /** Why it is refused. */
  get reason(): string {
    return this.#reason;
  }

  get label(): string {
    return this.#label;
  }

  get choice(): Omit<InputChoice, 'source'> | null {
    return this.#choice;
  }

  /** What is known of the way from the device; null while it is not open, or the browser does not let it be known. */
  get ring(): SoundRing | null {
    return this.#state === 'open' ? this.#ring : null;
  }

  /** From the air to the ring, as the browser says it, ms. */
  get captureMs(): number {
    return this.#capture?.latencyMs ?? 0;
  }

  /** Takes a device, or another one, from now on. An empty key is whatever the browser offers. */
  async use(choice: Omit<InputChoice, 'source'> | null): Promise<void> {
    const same = choice !== null && this.#choice?.device === choice.device && this.#choice.channels === choice.channels && this.#state !== 'none' && this.#state !== 'refused';
    if (same) return;
    const had = this.#state === 'open';
    this.#letGo();
    this.#choice = choice;
    if (!choice) {
      this.#to('none');
      if (had) this.#options.media(false, 0, 'device-away');
      return;
    }
    this.#unsubscribe ??= this.#options.owner.store.subscribe(() => this.#follow());
    await this.#open(choice, had);
  }

  /** Lists where its sound began and ceased since the last look. `deskLateMs` is how the desk's own clock stands. */
  look(clock: number, deskLateMs: number): void {
    const ring = this.ring;
    if (!ring) return;
    const { facts } = ring;
    facts[READER_LATE_MS] = deskLateMs;
    this.#turns = followTurns(ring, this.#turns, (flowing, at, turn) =>
      this.#options.media(flowing, Math.max(0, (clock - at) / SAMPLES_PER_MS), turn === 0 ? 'device-away' : 'device-late'),
    );
  }

  /** Peak since the last look, linear. */
  peak(): number {
    const ring = this.ring;
    if (!ring) return 0;
    const peak = ring.facts[PEAK];
    ring.facts[PEAK] = 0;
    return peak;
  }

  close(): void {
    this.#unsubscribe?.();
    this.#unsubscribe = null;
    this.#letGo();
    this.#choice = null;
    this.#state = 'none';
  }

  async #open(choice: Omit<InputChoice, 'source'>, had: boolean): Promise<void> {
    const turn = ++this.#turn;
    const { owner, patchbay, source } = this.#options;
    const device = choice.device === '' ? null : owner.device(choice.device);
    this.#label = device ? owner.nameOf(device.key) : this.#label;
    const mayBeHere = device !== null && (device.here || owner.hidesDevices);
    if (choice.device !== '' && !mayBeHere) return this.#lose(had, device ? 'away' : 'refused', 'The device chosen for it was never seen in this browser.');
    const at = patchbay();
    if (!at) return this.#to('none');
    this.#to('opening');
    const result = device?.simulated ? this.#madeUp(device.key) : await this.#ask(device, at.context);
    if (turn !== this.#turn) return result.found ? result.capture.close() : undefined;
    if (!result.found) {
      if (result.refused) owner.permission('refused');
      return this.#lose(had, device && !device.here && !result.refused ? 'away' : 'refused', result.reason);
    }
    this.#take(result.capture, at.patchbay, source);
    if (!device?.simulated) this.#unwatch = owner.watch();
    if (choice.device === '') this.#hold(result.capture);
  }

  /** The browser is asked for this very device; where it has named none yet, it does from then on. */
  async #ask(device: KnownDevice | null, context: AudioContext): Promise<CaptureResult> {
    const { owner } = this.#options;
    const onEnded = (): void => this.#onEnded();
    const result = await openCapture(context, device?.id ?? null, onEnded);
    if (!device || device.here || (!result.found && result.refused)) return result;
    if (result.found) {
      await owner.refresh();
      return result;
    }
    // The browser may have given it another id meanwhile: by its name it is found once devices have names.
    await owner.ask();
    const named = owner.device(device.key);
    return named?.here ? openCapture(context, named.id, onEnded) : result;
  }

  #madeUp(key: string): { found: true; capture: Capture } {
    const ring = newSoundRing();
    const stop = this.#options.rack.capture(madeUpName(key) as RackDevice, ring);
    return { found: true, capture: { label: this.#options.owner.nameOf(key), deviceId: '', latencyMs: 0, ring, close: stop } };
  }

  #take(capture: Capture, patchbay: Patchbay, source: SourceId): void {
    this.#capture = capture;
    this.#label = this.#choice?.device ? this.#options.owner.nameOf(this.#choice.device) : capture.label;
    this.#ring = capture.ring;
    this.#unplug = patchbay.plugRing(source, capture.ring, this.#choice?.channels ?? 'stereo');
    // It is heard as soon as enough waits in the ring; when that was, the ring says.
    this.#turns = 0;
    this.#to('open');
  }

  /** What the browser offered is held by its id from now on, where the browser tells it. */
  #hold({ deviceId }: Capture): void {
    const { owner } = this.#options;
    void owner.refresh().then(() => {
      const device = owner.byId('input', deviceId) ?? (deviceId === 'default' ? owner.device(owner.store.getState().defaults.input ?? '') : null);
      if (device && this.#choice?.device === '') this.#choice = { ...this.#choice, device: device.key };
      this.#options.changed();
    });
  }

  #onEnded(): void {
    if (this.#state !== 'open') return;
    void this.#options.owner.refresh().then(() => this.#state === 'open' && this.#gone());
  }

  /** The devices of this computer are others now. */
  #follow(): void {
    const choice = this.#choice;
    if (!choice || choice.device === '') return;
    const here = this.#options.owner.device(choice.device)?.here ?? false;
    if (this.#state === 'open' && !here) this.#gone();
    if (this.#state === 'away' && here) void this.#back(choice);
  }

  #gone(): void {
    const { owner } = this.#options;
    const since = this.#choice ? owner.goneSince(this.#choice.device) : performance.now();
    const written = this.#ring ? this.#ring.facts[LAST_WRITE_MS] - Date.now() + performance.now() : 0;
    // A device that stopped by itself before it was missed went then.
    const at = this.#ring && written > 0 && performance.now() - written > 200 ? written : since;
    // What it captured until then comes through the ring a little later.
    const onTheWay = this.captureMs + (this.#ring ? this.#ring.facts[WAITING] / SAMPLES_PER_MS : 0);
    this.#letGo();
    this.#options.media(false, Math.max(0, performance.now() - at - onTheWay), 'device-away');
    this.#to('away');
    this.#options.changed(`“${this.#label}” went away`);
  }

  async #back(choice: Omit<InputChoice, 'source'>): Promise<void> {
    await this.#open(choice, false);
    if (this.#state === 'open') this.#options.changed(`“${this.#label}” is back and is used again`);
  }

  #lose(had: boolean, state: 'away' | 'refused', reason: string): void {
    this.#reason = reason;
    if (had) this.#options.media(false, 0, 'device-away');
    this.#to(state);
  }

  #letGo(): void {
    this.#turn++;
    this.#unplug?.();
    this.#capture?.close();
    this.#unwatch?.();
    this.#unplug = this.#capture = this.#ring = this.#unwatch = null;
  }

  #to(state: InputState): void {
    if (state === this.#state) return;
    this.#state = state;
    this.#options.changed();
  }
}
