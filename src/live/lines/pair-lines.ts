import { dbToGain } from '@/core/dsp/decibels';
import { FLOWING } from '@/core/dsp/sound-ring';
import { sourceOfLine } from '@/core/hearing/seats';
import { outletOfLine } from '@/core/hearing/wiring';
import type { DirectionReport, LineReport } from '@/core/lines/line-report';
import { pairStateOf } from '@/core/lines/pair-state';
import type { LineState } from '@/core/lines/line-state';
import type { DeskSeat } from '@/core/session/desk-data';
import type { DeskReader } from '../desk/desk-state';
import type { DeskDevices } from '../devices/desk-devices';
import { pairView, type LineView } from './line-view';

export interface PairLinesOptions {
  store: DeskReader;
  devices: DeskDevices;
  /** What the screens show of the lines. */
  publish(views: Record<string, LineView>): void;
  onReport(seat: string, report: LineReport): void;
}

/** Louder than this is somebody, and not a device that hums. */
const HEARD = dbToGain(-55);
const MEASURE_MS = 1000;
/** Ten minutes of reports. */
const MOST_HISTORY = 600;

interface Kept {
  state: LineState;
  sinceMs: number;
  everHeard: boolean;
  glitches: number;
  lost: number;
  history: LineView['history'];
  view: LineView | null;
}

/** The lines that are two devices of this computer: their states in words, and what is measured of them. */
export class PairLines {
  readonly #options: PairLinesOptions;
  readonly #lines = new Map<string, Kept>();
  #timer: ReturnType<typeof setInterval> | undefined;

  constructor(options: PairLinesOptions) {
    this.#options = options;
    options.store.subscribe((now, before) => {
      if (now.plugged !== before.plugged || now.plan.waiting !== before.plan.waiting || now.seats !== before.seats || now.call !== before.call) this.#show();
    });
  }

  open(): void {
    this.#timer ??= setInterval(() => this.#measure(), MEASURE_MS);
    this.#show();
  }

  close(): void {
    clearInterval(this.#timer);
    this.#timer = undefined;
  }

  #pairs(): DeskSeat[] {
    return this.#options.store.getState().seats.filter(({ line, role }) => line === 'pair' && role !== 'host');
  }

  #kept(seat: string): Kept {
    const kept = this.#lines.get(seat) ?? { state: 'unplugged', sinceMs: Date.now(), everHeard: false, glitches: 0, lost: 0, history: [], view: null };
    this.#lines.set(seat, kept);
    return kept;
  }

  #measure(): void {
    const { devices, store, onReport } = this.#options;
    if (store.getState().call !== 'running') return;
    for (const seat of this.#pairs()) {
      const kept = this.#kept(seat.id);
      if (devices.inputPeak(sourceOfLine(seat)) > HEARD) kept.everHeard = true;
      const report = this.#report(seat, kept);
      if (!report) continue;
      kept.history = [...kept.history.slice(1 - MOST_HISTORY), { atMs: Date.now(), report }];
      kept.view = null;
      onReport(seat.id, report);
    }
    this.#show();
  }

  /** Both directions as for a link: nothing is coded, nothing is lost on a network, and what a clock costs is made up. */
  #report(seat: DeskSeat, kept: Kept): LineReport | null {
    const { plugged } = this.#options.store.getState();
    const input = plugged.inputs[sourceOfLine(seat)];
    const outlet = plugged.outlets[outletOfLine(seat.id)];
    if (input?.state !== 'open' && outlet?.state !== 'open') return null;
    const lostMs = Math.max(0, (input?.lost ?? 0) - kept.lost) / 48;
    kept.lost = input?.lost ?? 0;
    kept.glitches = input?.glitches ?? 0;
    const direction = (delayMs: number | null, concealedMs: number): DirectionReport => ({ delayMs, bufferMs: null, lossShare: 0, jitterMs: 0, concealedMs, kbps: 0 });
    return {
      roundTripMs: null,
      toDesk: input?.state === 'open' ? direction(input.delayMs, lostMs) : null,
      toGuest: outlet?.state === 'open' ? direction(outlet.delayMs, 0) : null,
    };
  }

  #show(): void {
    const { store, devices, publish } = this.#options;
    const { plugged, plan, call } = store.getState();
    const pairs = this.#pairs();
    for (const id of this.#lines.keys()) if (!pairs.some((seat) => seat.id === id)) this.#lines.delete(id);
    const views: Record<string, LineView> = {};
    for (const seat of pairs) {
      const kept = this.#kept(seat.id);
      const source = sourceOfLine(seat);
      const chosen = { input: plugged.choices.inputs.some((one) => one.source === source), output: plugged.choices.outlets.some(({ id }) => id === outletOfLine(seat.id)) };
      const running = call === 'running';
      const ring = devices.input(source)?.ring;
      const state = pairStateOf({
        input: chosen.input ? this.#endState(running, source, plugged.inputs[source]?.state) : 'none',
        output: chosen.output ? (running ? (plugged.outlets[outletOfLine(seat.id)]?.state ?? 'opening') : this.#hereState(plugged.choices.outlets.find(({ id }) => id === outletOfLine(seat.id))?.device)) : 'none',
        looped: devices.isLooped(source),
        everHeard: kept.everHeard,
        flowing: ring ? ring.facts[FLOWING] === 1 : running,
        waiting: plan.waiting.includes(seat.id),
        running,
      });
      if (state !== kept.state) Object.assign(kept, { state, sinceMs: Date.now(), view: null });
      if (!running) kept.everHeard = false;
      kept.view ??= pairView(state, kept.sinceMs, kept.history.at(-1)?.report ?? null, kept.history);
      views[seat.id] = kept.view;
    }
    publish(views);
  }

  #endState(running: boolean, source: ReturnType<typeof sourceOfLine>, state: string | undefined): 'open' | 'away' | 'refused' | 'opening' {
    if (!running) return this.#hereState(this.#options.devices.inputChoice(source)?.device);
    return state === 'open' || state === 'away' || state === 'refused' ? state : 'opening';
  }

  #hereState(device: string | undefined): 'open' | 'away' {
    return device !== undefined && (this.#options.devices.owner.device(device)?.here ?? false) ? 'open' : 'away';
  }
}
