import { codingLossDb } from '@/core/echo/echo-level';
import type { EchoFound } from '@/core/echo/echo-watch';
import { voiceOf, type SourceId } from '@/core/hearing/ids';
import { observedWays } from '@/core/linecheck/observe-check';
import { channelsOf, type Tap } from '@/core/session/captures';
import type { AudioDesk } from '../desk/audio-desk';
import type { DeskPlan } from '../desk/desk-plan';
import type { EchoesSlice, Own } from '../desk/desk-state';
import { ringBytes } from '../recorder/ring';
import type { FromEchoWorker, ToEchoWorker, WatchedPair } from './echo-messages';
import type { EchoSeen } from './echo-state';
import { watchedPairs } from './watched-pairs';

const CAPTURE = 'echo watch';
/** A second and a third: the worker looks ten times a second. */
const RING_BLOCKS = 500;
const BY = 'the echo watch';
/** A line's way there and back is known to about this share; somebody in the same room is always heard sooner than that. */
const KNOWN_SHARE = 0.9;
/** Levels are kept so often, ms, for half an hour. */
const HISTORY_MS = 2000;
const MOST_HISTORY = 900;
/** The audit is told again when the level or the delay is another. */
const NEWS_DB = 1.5;
const NEWS_MS = 10;

type History = EchoSeen['history'];
const withLevel = (history: History, level: History[number]): History => (level.atMs - (history.at(-1)?.atMs ?? -Infinity) < HISTORY_MS ? history : [...history, level].slice(-MOST_HISTORY));

/** During every call, for everybody who talks in it: does what is sent to them come back? */
export class EchoWatches {
  readonly #store: Own<EchoesSlice>;
  readonly #plan: DeskPlan;
  readonly #audio: () => AudioDesk | null;
  #worker: Worker | null = null;
  /** Levels over the call: an echo that is lost for a while goes on with its own. */
  readonly #histories = new Map<SourceId, History>();
  #watched = '';
  #least = '';

  constructor(store: Own<EchoesSlice>, plan: DeskPlan, audio: () => AudioDesk | null) {
    this.#store = store;
    this.#plan = plan;
    this.#audio = audio;
    store.subscribe((now, before) => {
      if (now.plan.seats !== before.plan.seats || now.call !== before.call) this.#follow();
      else if (now.lines !== before.lines || now.plugged !== before.plugged) this.#tellLeast();
    });
  }

  #follow(): void {
    const audio = this.#store.getState().call === 'running' ? this.#audio() : null;
    const { sourceIds, listenerIds } = this.#plan.compiled();
    const pairs = audio ? watchedPairs(this.#store.getState()) : [];
    const taps = pairs.flatMap(({ source, listener }): Tap[] => [
      { of: 'source', slot: sourceIds.indexOf(source), channels: 1 },
      { of: 'listener', slot: listenerIds.indexOf(listener), channels: 2 },
    ]);
    const watched = taps.map(({ slot }) => slot).join();
    if (watched === this.#watched) return;
    this.#watched = watched;
    this.#histories.clear();
    this.#worker?.terminate();
    this.#worker = null;
    this.#store.setState({ echoes: {} });
    this.#plan.forget(({ by }) => by === BY);
    if (!audio || taps.length === 0) return audio?.tell({ type: 'capture', name: CAPTURE, ring: null });
    const ring = new SharedArrayBuffer(ringBytes(channelsOf(taps), RING_BLOCKS));
    const worker = new Worker(new URL('./echo-watch.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromEchoWorker>) => this.#seen(data.source as SourceId, data.reading.echo);
    this.#worker = worker;
    this.#tell({ type: 'watch', ring, pairs: this.#pairsToWatch() });
    audio.tell({ type: 'capture', name: CAPTURE, ring, taps });
  }

  #tellLeast(): void {
    if (!this.#worker) return;
    const pairs = this.#pairsToWatch();
    const least = pairs.map(({ leastMs }) => Math.round((leastMs ?? 0) / 10)).join();
    if (least === this.#least) return;
    this.#least = least;
    this.#tell({ type: 'least', pairs });
  }

  /** Sooner than a line's own way there and back nothing is an echo: it is somebody in the same room. */
  #pairsToWatch(): WatchedPair[] {
    const state = this.#store.getState();
    const { lines, plugged } = state;
    return watchedPairs(state).map(({ source, listener }) => {
      const report = lines[source.slice('voice:'.length)]?.report;
      const there = report?.toGuest?.delayMs ?? Object.values(plugged.outlets).find(({ choice }) => choice.listener === listener)?.delayMs ?? null;
      const back = report?.toDesk?.delayMs ?? plugged.inputs[source]?.delayMs ?? null;
      return { source, leastMs: there === null && back === null ? null : KNOWN_SHARE * ((there ?? 0) + (back ?? 0)) };
    });
  }

  #seen(source: SourceId, echo: EchoFound | null): void {
    const before = this.#store.getState().echoes[source];
    if (!echo) {
      if (!before) return;
      this.#store.setState(({ echoes }) => ({ echoes: Object.fromEntries(Object.entries(echoes).filter(([id]) => id !== source)) }));
      return this.#plan.forget((one) => one.by === BY && one.of === 'coupling' && one.coupling.to === source);
    }
    const levelDb = echo.levelDb === null ? null : Math.min(0, echo.levelDb + codingLossDb(this.#voiceKbps(source)));
    const at = Date.now();
    const history = levelDb === null ? (this.#histories.get(source) ?? []) : withLevel(this.#histories.get(source) ?? [], { atMs: at, levelDb });
    this.#histories.set(source, history);
    const seen: EchoSeen = { delayMs: echo.delayMs, certainty: echo.certainty, levelDb, sinceMs: before?.sinceMs ?? at, history };
    if (before?.levelDb === levelDb && before?.delayMs === seen.delayMs) return;
    this.#store.setState(({ echoes }) => ({ echoes: { ...echoes, [source]: seen } }));
    if (levelDb !== null) this.#observe(source, levelDb, echo.delayMs);
  }

  #observe(source: SourceId, gainDb: number, delayMs: number): void {
    const { plan, observations } = this.#store.getState();
    const listener = watchedPairs(this.#store.getState()).find((pair) => pair.source === source)?.listener;
    if (!listener) return;
    const observed = observedWays(plan, [{ from: listener, to: source, gainDb, delayMs, pass: 1 }], new Date(), BY);
    const known = observations.find((one) => one.of === 'coupling' && one.by === BY && one.coupling.to === source);
    const same = known?.of === 'coupling' && known.coupling.id === observed[0].coupling.id && Math.abs((known.coupling.gainDb ?? 0) - gainDb) < NEWS_DB && Math.abs((known.coupling.delayMs ?? 0) - delayMs) < NEWS_MS;
    if (same) return;
    // It may be another way now: a far system, and no loudspeaker.
    this.#plan.forget((one) => one.by === BY && one.of === 'coupling' && one.coupling.to === source);
    this.#plan.observe(observed);
  }

  #voiceKbps(source: SourceId): number | null {
    const seat = this.#store.getState().seats.find(({ id }) => voiceOf(id) === source);
    return seat?.line === 'link' ? (seat.lineSettings?.voiceKbps ?? 96) : null;
  }

  #tell(message: ToEchoWorker): void {
    this.#worker?.postMessage(message);
  }
}
