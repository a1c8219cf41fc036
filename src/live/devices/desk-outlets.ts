import type { OutletChoice } from '@/core/devices/choices';
import { phonesOf } from '@/core/hearing/ids';
import { listenersOf, type HearingPlan } from '@/core/hearing/plan';
import { outletOfLine } from '@/core/hearing/wiring';
import type { Conditions } from '../desk/conditions';
import type { Patchbay } from '../patch/patchbay';
import type { DeviceOwner } from './device-owner';
import { Outlet } from './outlet';
import { PHONES_OUTLET, type PlugChoices } from './plug-choices';
import { sayOfDevice } from './plugged-news';
import type { RackHost } from './rack-host';

interface DeskOutletsOptions {
  owner: DeviceOwner;
  rack: RackHost;
  plugs: PlugChoices;
  plan(): HearingPlan;
  /** Null while no call runs. */
  patchbay(): Patchbay | null;
  /** One of them is open, away or refused now. */
  changed(): void;
  conditions: Conditions;
}

/** The outputs mixes leave by while a call runs: one for each that is chosen, and the host's phones. */
export class DeskOutlets {
  readonly #options: DeskOutletsOptions;
  readonly #outlets = new Map<string, Outlet>();

  constructor(options: DeskOutletsOptions) {
    this.#options = options;
  }

  get all(): ReadonlyMap<string, Outlet> {
    return this.#outlets;
  }

  async open(): Promise<void> {
    await Promise.all([...this.#outlets.values()].map((outlet) => outlet.open()));
  }

  close(): void {
    for (const outlet of this.#outlets.values()) outlet.close();
    this.#outlets.clear();
  }

  async resume(): Promise<void> {
    await Promise.all([...this.#outlets.values()].map((outlet) => outlet.resume()));
  }

  /** Every outlet that is chosen, and no other: those of lines that are gone are closed. */
  follow(): void {
    const { owner, rack, plugs, plan, patchbay, conditions } = this.#options;
    const lines = new Set(plugs.pairs().map(({ id }) => outletOfLine(id)));
    const there = new Set<string>(listenersOf(plan()).map(({ id }) => id));
    const phones: OutletChoice = { id: PHONES_OUTLET, listener: phonesOf(plugs.host()), device: '', channels: 'stereo', offsetMs: 0 };
    const wanted = plugs.all.outlets.filter(({ id, listener }) => there.has(listener) && (!id.startsWith('line:') || lines.has(id)));
    const all = wanted.some(({ id }) => id === PHONES_OUTLET) ? wanted : [...wanted, phones];
    for (const [id, outlet] of this.#outlets) {
      if (all.some((one) => one.id === id)) continue;
      outlet.close();
      conditions.end(`device-${id}`);
      this.#outlets.delete(id);
    }
    for (const choice of all) {
      const outlet = this.#outlets.get(choice.id);
      if (outlet) {
        if (JSON.stringify(outlet.choice) !== JSON.stringify(choice)) outlet.change(choice);
      } else {
        const made = new Outlet(choice, { owner, rack, patchbay, changed: (news) => this.#say(choice.id, news) });
        this.#outlets.set(choice.id, made);
        void made.open();
      }
    }
  }

  #say(id: string, news?: string): void {
    if (news) sayOfDevice(this.#options.conditions, id, this.#outlets.get(id)?.state, `${this.#nameOf(id)}: the output ${news}. Nothing else was touched.`);
    this.#options.changed();
  }

  #nameOf(id: string): string {
    const { plugs, plan } = this.#options;
    if (id === PHONES_OUTLET) return 'Your phones';
    const seat = plugs.pairs().find((one) => outletOfLine(one.id) === id);
    if (seat) return `${seat.name}’s return`;
    const listener = plugs.all.outlets.find((one) => one.id === id)?.listener;
    const feed = plan().feeds.find((one) => `feed:${one.id}` === listener);
    return feed ? `The feed “${feed.name}”` : 'The program';
  }
}
