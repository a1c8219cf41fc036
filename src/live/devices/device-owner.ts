import { createStore, type StoreApi } from 'zustand/vanilla';
import { devicesAfter, namesOf, NO_DEVICES, type Devices } from '@/core/devices/known-devices';
import { madeUpKey, type KnownDevice, type ListedDevice } from '@/core/devices/device';
import { RACK_DEVICES, type RackDevice } from '@/core/practice/rack';
import { canChooseOutputs } from './open-context';
import { readKnown, writeKnown } from './kept-choices';
import type { Conditions } from '../desk/conditions';

export type Permission = 'unasked' | 'granted' | 'refused' | 'unavailable';

export interface DevicesState extends Devices {
  permission: Permission;
  canChooseOutputs: boolean;
  /** Made-up devices are offered beside the real ones. */
  offersMadeUp: boolean;
}

/** While a device is used, that it went is known so soon: until then a system may send its sound elsewhere. */
const WATCHING_MS = 60;
const IDLE_MS = 1500;

const RACK_LABELS: Record<RackDevice, string> = {
  microphone: 'Made-up microphone',
  phones: 'Made-up headphones',
  'cable-1': 'Made-up cable 1',
  'cable-2': 'Made-up cable 2',
  'cable-3': 'Made-up cable 3',
};
export const MADE_UP = Object.freeze({ input: (device: RackDevice) => madeUpKey('input', device), output: (device: RackDevice) => madeUpKey('output', device) });

function madeUpDevices(): KnownDevice[] {
  const device = (kind: 'input' | 'output', id: RackDevice): KnownDevice => ({ key: madeUpKey(kind, id), kind, id, label: RACK_LABELS[id], name: '', here: true, simulated: true });
  return RACK_DEVICES.flatMap((id) => [...(id === 'phones' ? [] : [device('input', id)]), ...(id === 'microphone' ? [] : [device('output', id)])]);
}

/**
 * The one owner of this computer's devices: asks for permission, lists them, and finds out who came and went. Browsers tell of
 * that only when they are asked, so they are asked all the time while something is in use.
 */
export class DeviceOwner {
  readonly store: StoreApi<DevicesState>;
  readonly #conditions: Conditions;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #users = 0;
  #hidden = false;
  #open = false;
  /** When each device was last seen, and first missed, `performance.now()`. */
  readonly #seen = new Map<string, number>();
  readonly #missed = new Map<string, number>();
  readonly #awayByHand = new Set<string>();

  constructor(conditions: Conditions) {
    this.#conditions = conditions;
    this.store = createStore<DevicesState>(() => ({ ...NO_DEVICES, known: madeUpDevices(), permission: 'unasked', canChooseOutputs: true, offersMadeUp: false }));
  }

  /** Begins to look. Asks nobody for anything. */
  open(): void {
    if (this.#open) return;
    this.#open = true;
    const known = [...readKnown(), ...madeUpDevices()];
    this.store.setState({ known, canChooseOutputs: canChooseOutputs(), permission: navigator.mediaDevices ? 'unasked' : 'unavailable' });
    navigator.mediaDevices?.addEventListener?.('devicechange', this.#onChange);
    this.#look();
    void this.#followPermission();
  }

  close(): void {
    this.#open = false;
    clearTimeout(this.#timer);
    navigator.mediaDevices?.removeEventListener?.('devicechange', this.#onChange);
  }

  /** Allowed, refused or taken back while the page is open. */
  async #followPermission(): Promise<void> {
    // Not every browser can be asked about microphones.
    const status = await navigator.permissions?.query({ name: 'microphone' as PermissionName }).catch(() => null);
    if (!status) return;
    const follow = (): void => {
      const before = this.store.getState().permission;
      if (status.state === 'denied') this.permission('refused');
      else if (status.state === 'granted') {
        this.permission('granted');
        this.#conditions.end('permission');
      }
      if (before === 'granted' && status.state === 'denied') this.#conditions.begin('permission', 'The browser no longer lets this page use microphones: what comes by devices is silent and listed. Allow it again in the address bar; guests by link, sounds and practice callers go on.');
      void this.refresh();
    };
    status.addEventListener?.('change', follow);
    follow();
  }

  /** There are devices, and the browser does not say which before this page uses a microphone: after a reload, in some. */
  get hidesDevices(): boolean {
    return this.#hidden;
  }

  /** Something is used from now on, until the function given back is called: who goes must be known at once. */
  watch(): () => void {
    this.#users++;
    this.#look();
    let done = false;
    return () => {
      if (!done) this.#users--;
      done = true;
    };
  }

  /** Asks for permission to use microphones, which also gives devices their names. */
  async ask(): Promise<Permission> {
    if (!navigator.mediaDevices) return 'unavailable';
    try {
      const stream = await navigator.mediaDevices.getUserMedia({ audio: true });
      for (const track of stream.getTracks()) track.stop();
      this.permission('granted');
    } catch (error) {
      const { name } = error as DOMException;
      if (name === 'NotAllowedError' || name === 'SecurityError') this.permission('refused');
    }
    await this.refresh();
    return this.store.getState().permission;
  }

  permission(permission: Permission): void {
    if (this.store.getState().permission !== permission) this.store.setState({ permission });
  }

  device(key: string): KnownDevice | null {
    return this.store.getState().known.find((device) => device.key === key) ?? null;
  }

  /** The device of an id the browser uses. */
  byId(kind: 'input' | 'output', id: string): KnownDevice | null {
    return this.store.getState().known.find((device) => device.kind === kind && device.id === id && !device.simulated) ?? null;
  }

  nameOf(key: string): string {
    return namesOf(this.store.getState().known).get(key) ?? 'a device that is not known here';
  }

  /** When a device that is gone went, to within half the time between two looks; `performance.now()`. */
  goneSince(key: string): number {
    const [seen, missed] = [this.#seen.get(key), this.#missed.get(key)];
    return seen === undefined || missed === undefined ? performance.now() : (seen + missed) / 2;
  }

  rename(key: string, name: string): void {
    this.store.setState(({ known }) => ({ known: known.map((device) => (device.key === key ? { ...device, name: name.trim().slice(0, 60) } : device)) }));
    writeKnown(this.store.getState().known);
  }

  offerMadeUp(offersMadeUp: boolean): void {
    this.store.setState({ offersMadeUp });
  }

  /** A made-up device is pulled out, or plugged in again. */
  pullMadeUp(device: RackDevice, away: boolean): void {
    for (const key of [madeUpKey('input', device), madeUpKey('output', device)]) {
      if (away) this.#awayByHand.add(key);
      else this.#awayByHand.delete(key);
    }
    void this.refresh();
  }

  /** Asks the browser now. */
  async refresh(): Promise<void> {
    const asked = performance.now();
    const listed = (await navigator.mediaDevices?.enumerateDevices?.().catch(() => null)) ?? null;
    if (!listed) return;
    const before = this.store.getState();
    const devices = listed.flatMap(({ deviceId, kind, label, groupId }): ListedDevice[] =>
      kind === 'videoinput' ? [] : [{ id: deviceId, kind: kind === 'audioinput' ? 'input' : 'output', label: label ?? '', group: groupId ?? '' }],
    );
    this.#hidden = devices.some(({ kind, id }) => kind === 'input' && id === '');
    const labelled = devices.some(({ kind, id }) => kind === 'input' && id !== '');
    if (before.permission === 'unasked' && labelled) this.permission('granted');
    let after = devicesAfter(before, devices, () => crypto.randomUUID());
    const known = after.known.map((device) => (device.simulated && device.here === this.#awayByHand.has(device.key) ? { ...device, here: !device.here } : device));
    if (known.some((device, k) => device !== after.known[k])) after = { ...after, known };
    this.#noteTimes(after.known, asked);
    if (after.known === before.known && after.defaults === before.defaults) return;
    this.store.setState({ known: after.known, defaults: after.defaults });
    writeKnown(after.known);
    this.#sayMoved(before, after);
  }

  #noteTimes(known: readonly KnownDevice[], asked: number): void {
    for (const { key, here } of known) {
      if (here) {
        this.#seen.set(key, asked);
        this.#missed.delete(key);
      } else if (!this.#missed.has(key)) this.#missed.set(key, performance.now());
    }
  }

  /** The system chose another default: nothing here follows it, and the host is told once. */
  #sayMoved(before: Devices, after: Devices): void {
    for (const kind of ['input', 'output'] as const) {
      const [was, is] = [before.defaults[kind], after.defaults[kind]];
      if (was === null || is === null || was === is) continue;
      this.#conditions.begin(`default-${kind}`, `The system’s own ${kind} is “${this.nameOf(is)}” now. Nothing moved here: everything stays on the devices you chose.`);
    }
  }

  readonly #onChange = (): void => void this.refresh();

  #look(): void {
    clearTimeout(this.#timer);
    void this.refresh().finally(() => {
      clearTimeout(this.#timer);
      if (this.#open) this.#timer = setTimeout(() => this.#look(), this.#users > 0 ? WATCHING_MS : IDLE_MS);
    });
  }
}
