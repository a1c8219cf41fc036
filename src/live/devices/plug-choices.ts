import { refusalOf, withInputChoice, withOutletChoice, type DeviceChoices, type InputChoice, type OutletChoice } from '@/core/devices/choices';
import { cableOf, looksLikeLoudspeakers } from '@/core/devices/known-devices';
import { phonesOf, voiceOf, type ListenerId, type SourceId } from '@/core/hearing/ids';
import { listenersOf, sourcesOf } from '@/core/hearing/plan';
import { listenerOfLine, sourceOfLine } from '@/core/hearing/seats';
import { outletOfLine, type CameBack, type WiredInput, type WiredOutlet, type Wiring } from '@/core/hearing/wiring';
import type { DeskSeat } from '@/core/session/desk-data';
import type { DeskReader } from '../desk/desk-state';
import { MADE_UP, type DeviceOwner } from './device-owner';
import { readChoices, readOwnSound, writeChoices, writeOwnSound } from './kept-choices';

export const PHONES_OUTLET = 'phones';

interface PlugChoicesOptions {
  episode: string;
  store: DeskReader;
  owner: DeviceOwner;
  /** Something is to be plugged in elsewhere. */
  chosen(): void;
}

/** What is to be plugged in where, as the host chose it in this browser, and how the audit sees it. */
export class PlugChoices {
  readonly #options: PlugChoicesOptions;
  #choices: DeviceChoices = { inputs: [], outlets: [] };
  #cameBack: CameBack[] = [];

  constructor(options: PlugChoicesOptions) {
    this.#options = options;
  }

  get all(): DeviceChoices {
    return this.#choices;
  }

  get everCameBack(): CameBack[] {
    return this.#cameBack;
  }

  /** The host's seat. */
  host(): string {
    return this.#options.store.getState().seats.find(({ role }) => role === 'host')?.id ?? '';
  }

  /** Whoever comes by two devices. */
  pairs(): DeskSeat[] {
    return this.#options.store.getState().seats.filter(({ line, role }) => line === 'pair' && role !== 'host');
  }

  /** Reads what this browser kept. */
  open(): void {
    this.#choices = this.#startChoices();
  }

  input(source: SourceId): InputChoice | null {
    return this.#choices.inputs.find((one) => one.source === source) ?? null;
  }

  /** Plugs a source into a device, or (null) out. */
  chooseInput(source: SourceId, choice: Omit<InputChoice, 'source'> | null): void {
    this.#choices = withInputChoice(this.#choices, source, choice);
    this.#cameBack = this.#cameBack.filter((one) => one.source !== source);
    if (source === voiceOf(this.host())) writeOwnSound({ ...readOwnSound(), microphone: choice?.device ?? null });
    this.#keep();
  }

  /** Plugs a mix into an output, or (null) out. What excludes another use is refused: then the reason comes back. */
  chooseOutlet(id: string, choice: Omit<OutletChoice, 'id'> | null): string | null {
    const refusal = choice && refusalOf(this.#choices, { id, ...choice });
    if (refusal) return refusal;
    this.#choices = withOutletChoice(this.#choices, id, choice);
    this.#cameBack = choice ? this.#cameBack.filter((one) => one.listener !== choice.listener) : this.#cameBack;
    if (id === PHONES_OUTLET) writeOwnSound({ ...readOwnSound(), phones: choice?.device ?? null });
    this.#keep();
    return null;
  }

  /** What a sound that was sent showed: it came back straight (null: it does not any more). */
  cameBack(listener: ListenerId, source: SourceId, found: { gainDb: number; delayMs: number } | null): void {
    this.#cameBack = [...this.#cameBack.filter((one) => one.source !== source || one.listener !== listener), ...(found ? [{ listener, source, ...found }] : [])];
  }

  /** What the audit is given beside plan and hands. */
  wiring(): Wiring {
    const { owner, store } = this.#options;
    const { plan, place } = store.getState();
    const of = (key: string) => {
      const device = owner.device(key);
      return { device: key, name: owner.nameOf(key), cable: device ? cableOf(device) : null, here: device?.here ?? false };
    };
    const there = new Set<string>([...sourcesOf(plan), ...listenersOf(plan)].map(({ id }) => id));
    return {
      known: place === 'desk',
      inputs: this.#choices.inputs.filter(({ source }) => there.has(source)).map((one): WiredInput => ({ source: one.source, channels: one.channels, ...of(one.device) })),
      outlets: this.#choices.outlets.filter(({ listener }) => there.has(listener)).map((one): WiredOutlet => {
        const device = owner.device(one.device);
        return { id: one.id, listener: one.listener, channels: one.channels, loudspeakers: device !== null && looksLikeLoudspeakers(device), ...of(one.device) };
      }),
      cameBack: this.#cameBack,
    };
  }

  #keep(): void {
    writeChoices(this.#options.episode, this.#choices);
    this.#options.chosen();
  }

  /** From what this browser kept; the demo's line by another program begins on made-up cables. */
  #startChoices(): DeviceChoices {
    const own = readOwnSound();
    let choices = readChoices(this.#options.episode) ?? { inputs: [], outlets: [] };
    const [voice, phones] = [voiceOf(this.host()), phonesOf(this.host())];
    if (own.microphone && !choices.inputs.some(({ source }) => source === voice)) choices = withInputChoice(choices, voice, { device: own.microphone, channels: 'left' });
    if (own.phones && !choices.outlets.some(({ id }) => id === PHONES_OUTLET)) choices = withOutletChoice(choices, PHONES_OUTLET, { listener: phones, device: own.phones, channels: 'stereo', offsetMs: 0 });
    for (const seat of this.pairs()) {
      if (!seat.practice || choices.inputs.some(({ source }) => source === sourceOfLine(seat))) continue;
      choices = withInputChoice(choices, sourceOfLine(seat), { device: MADE_UP.input('cable-2'), channels: 'both' });
      choices = withOutletChoice(choices, outletOfLine(seat.id), { listener: listenerOfLine(seat), device: MADE_UP.output('cable-1'), channels: 'stereo', offsetMs: 0 });
    }
    return choices;
  }
}
