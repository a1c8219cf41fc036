import type { AirTitle, Broadcast } from '@/core/air/broadcast';
import type { Station, StationSettings } from '@/core/air/station';
import { titleOf } from '@/core/air/title';
import { isLit } from '@/core/hearing/is-lit';
import { soundsOf, voiceOf } from '@/core/hearing/ids';
import { padSamples } from '@/core/session/desk-data';
import { getJson, sendJson } from '../api';
import type { AudioDesk } from '../desk/audio-desk';
import type { DeskPads } from '../desk/desk-pads';
import type { DeskPlan } from '../desk/desk-plan';
import type { AirSlice, Own } from '../desk/desk-state';
import { delayOf, isOn, type AirState } from './air-state';
import { Feed } from './feed';
import { HearAir } from './hear-air';
import type { Conditions } from '../desk/conditions';

/** How often it is looked what plays and who is in, ms; nobody reads titles that change faster. */
const LOOK_EVERY_MS = 1000;
const RATE = 48_000;
/** Where nothing is fed any more it is asked so often how it ended, ms. */
const ASK_EVERY_MS = 1000;

export interface DeskAirOptions {
  episode: { id: string; title: string; show: string; showId: string };
  store: Own<AirSlice>;
  plan: DeskPlan;
  pads: DeskPads;
  audio(): AudioDesk | null;
  conditions: Conditions;
}

/** What this desk sends to internet radio: fed from the mixes, titled by what happens, and taken up again after a reload. */
export class DeskAir {
  readonly #options: DeskAirOptions;
  readonly #feeds = new Map<string, Feed>();
  readonly #hear: HearAir;
  /** When each feed said how it goes. */
  readonly #readAt = new Map<string, number>();
  /** Samples are counted anew by each audio thread. */
  #session = 0;
  #timer: ReturnType<typeof setInterval> | undefined;

  constructor(options: DeskAirOptions) {
    this.#options = options;
    this.#hear = new HearAir({ audio: options.audio, slotOf: (broadcast) => this.#slotOf(broadcast), changed: (heard) => this.#set({ heard }) });
    options.store.subscribe((now, before) => {
      if (now.call !== before.call) void (now.call === 'running' ? this.#takeUp() : this.#letGo());
      if (now.plan !== before.plan) for (const [id, feed] of this.#feeds) feed.follow(this.#slotOf(id));
    });
  }

  /** Keeps a new station, or another form of one. @throws {ServerError} */
  async keepStation(id: string | null, settings: StationSettings, password: string | null): Promise<void> {
    const url = `/api/shows/${this.#options.episode.showId}/stations`;
    const kept = await sendJson<Station>(id === null ? 'POST' : 'PUT', id === null ? url : `${url}/${id}`, { settings, password });
    this.#set(({ stations }) => ({ stations: [...stations.filter((one) => one.id !== kept.id), kept] }));
  }

  async removeStation(id: string): Promise<void> {
    await this.stop(id);
    try {
      await sendJson('DELETE', `/api/shows/${this.#options.episode.showId}/stations/${id}`);
      this.#set(({ stations }) => ({ stations: stations.filter((one) => one.id !== id) }));
      this.#options.conditions.end('station');
    } catch (error) {
      this.#options.conditions.begin('station', `The station was not removed. ${(error as Error).message}`);
    }
  }

  /** Goes on the air with a station. */
  async start(station: string): Promise<void> {
    if (this.#options.store.getState().call !== 'running') return;
    const settings = this.#air().stations.find(({ id }) => id === station)?.settings;
    if (settings && !this.#options.plan.compiled().listenerIds.includes(settings.listener)) return this.#options.conditions.begin(`air-${station}`, `“${settings.name}” carries a feed that this episode does not have. Choose another mix for it in Prepare, or make that feed in Hearing.`);
    try {
      this.#feed(await sendJson<Broadcast>('POST', this.#url(), { station }));
      this.#options.conditions.end(`air-${station}`);
    } catch (error) {
      this.#options.conditions.begin(`air-${station}`, `This is not on the air. ${(error as Error).message}`);
    }
  }

  /** Takes a station off the air; what has come is still sent. */
  async stop(station: string, why?: string): Promise<void> {
    const broadcast = this.#air().broadcasts[station];
    if (!isOn(broadcast)) return;
    this.#unfeed(broadcast.id);
    try {
      const query = why === undefined ? '' : `?${new URLSearchParams({ why }).toString()}`;
      this.#show(await sendJson<Broadcast>('DELETE', `${this.#url()}/${broadcast.id}${query}`, {}, { keepalive: true }));
      void this.#askUntilEnded(broadcast.id);
    } catch (error) {
      this.#options.conditions.begin(`air-${station}`, `The server was not told that “${broadcast.name}” is off the air; without sound it ends by itself in a minute. ${(error as Error).message}`);
    }
  }

  /** The host ends the call: so ends what goes out. */
  async callEnds(): Promise<void> {
    await Promise.all(Object.entries(this.#air().broadcasts).map(([station, broadcast]) => isOn(broadcast) && this.stop(station, 'The host ended the call.')));
  }

  /** Words in the place of the title that follows by itself; null lets it follow again. */
  type(title: string | null): void {
    this.#set({ typed: title === null || title.trim() === '' ? null : title.trim() });
    this.#title();
  }

  /** Plays what a station's listeners hear in the phones, and measures how late it is; null stops that. */
  hear(broadcast: string | null): void {
    this.#hear.choose(broadcast, broadcast === null ? '' : `${this.#url()}/${broadcast}/listen`);
  }

  /** What is on the air goes on being fed by this desk, for it was by an earlier one. */
  async #takeUp(): Promise<void> {
    this.#session = Math.floor(Math.random() * 2 ** 31);
    try {
      for (const broadcast of (await getJson<Broadcast[]>(this.#url())).reverse()) {
        this.#show(broadcast);
        if (isOn(broadcast)) this.#feed(broadcast);
      }
      this.#options.conditions.end('air');
    } catch (error) {
      this.#options.conditions.begin('air', `It is not known what is on the air. ${(error as Error).message}`);
    }
  }

  #feed(broadcast: Broadcast): void {
    const audio = this.#options.audio();
    const settings = this.#air().stations.find(({ id }) => id === broadcast.station)?.settings;
    if (!audio || !settings || this.#feeds.has(broadcast.id)) return;
    const { recordingSettings } = this.#options.store.getState();
    const feed = new Feed(
      audio,
      broadcast,
      settings,
      { url: `${this.#url()}/${broadcast.id}/pieces`, session: this.#session, targetLufs: settings.levelled ? recordingSettings.targetLufs : null },
      {
        reading: (reading) => {
          this.#readAt.set(broadcast.id, performance.now());
          this.#set(({ readings }) => ({ readings: { ...readings, [broadcast.id]: reading } }));
        },
        state: (state) => this.#feeds.has(broadcast.id) && this.#news(state),
        ended: (reason) => void this.#ended(broadcast, reason),
      },
    );
    this.#feeds.set(broadcast.id, feed);
    this.#show(broadcast);
    feed.follow(this.#slotOf(broadcast.id));
    this.#timer ??= setInterval(() => this.#title(), LOOK_EVERY_MS);
    this.#say(broadcast.id, this.#wantedTitle());
  }

  /** The stream is over, though nobody here asked for it. */
  async #ended(broadcast: Broadcast, reason: string): Promise<void> {
    this.#unfeed(broadcast.id);
    await this.stop(broadcast.station ?? '', reason);
    this.#options.conditions.begin(`air-${broadcast.station}`, `“${broadcast.name}” is not on the air any more. ${reason}`);
    await this.#askUntilEnded(broadcast.id);
  }

  async #askUntilEnded(id: string): Promise<void> {
    for (let tries = 0; tries < 10; tries++) {
      await new Promise((resolve) => setTimeout(resolve, ASK_EVERY_MS));
      const now = await getJson<Broadcast>(`${this.#url()}/${id}`).catch(() => null);
      if (now) this.#show(now);
      if (now?.endedAt) return;
    }
  }

  #unfeed(id: string): void {
    this.#feeds.get(id)?.close();
    this.#feeds.delete(id);
    if (this.#air().heard?.broadcast === id) this.hear(null);
    this.#set(({ readings }) => ({ readings: Object.fromEntries(Object.entries(readings).filter(([one]) => one !== id)) }));
    if (this.#feeds.size > 0) return;
    clearInterval(this.#timer);
    this.#timer = undefined;
  }

  /** The audio thread is gone; the streams are not: another desk may take them up. */
  #letGo(): void {
    for (const id of [...this.#feeds.keys()]) this.#unfeed(id);
  }

  #title(): void {
    const wanted = this.#wantedTitle();
    if (wanted.text === this.#air().title) return;
    for (const id of this.#feeds.keys()) this.#say(id, wanted);
  }

  #say(id: string, { text, by }: Pick<AirTitle, 'text' | 'by'>): void {
    this.#set({ title: text });
    const sample = this.#air().readings[id]?.heardSample ?? 0;
    const title: AirTitle = { text, by, session: this.#session, sample: Math.max(0, sample) };
    const { conditions } = this.#options;
    void sendJson('POST', `${this.#url()}/${id}/titles`, title).then(
      () => conditions.end('air-title'),
      (error: Error) => conditions.begin('air-title', `The title was not sent. ${error.message}`),
    );
  }

  #wantedTitle(): Pick<AirTitle, 'text' | 'by'> {
    const { episode, store, pads } = this.#options;
    const { air, plan, seats, lines, pads: board } = store.getState();
    if (air.typed !== null) return { text: air.typed, by: 'typed' };
    const plays = board.filter(({ sound, player }) => pads.positionOf(sound) >= 0 && isLit(plan, soundsOf(player)));
    const there = seats.filter(({ id, role, line }) => role !== 'producer' && !plan.waiting.includes(id) && (role === 'host' || line === 'practice' || isThere(lines[id]?.state)));
    return titleOf({
      show: episode.show,
      episode: episode.title,
      people: [...there.filter(({ role }) => role === 'host'), ...there.filter(({ role }) => role !== 'host')].filter(({ id }) => isLit(plan, voiceOf(id))).map(({ fullName, name }) => fullName || name),
      sounds: plays.map((pad) => ({ name: pad.name, credit: pad.credit, seconds: padSamples(pad) / RATE })),
    });
  }

  /** What the server answered to the newest piece, and how late its station has the sound. */
  #news(broadcast: Broadcast): void {
    const { id } = broadcast;
    const readBeforeMs = performance.now() - (this.#readAt.get(id) ?? 0);
    this.#show(broadcast, ({ readings, delaysMs }) => ({ delaysMs: { ...delaysMs, [id]: delayOf(broadcast, readings[id], this.#session, readBeforeMs) } }));
  }

  #show(broadcast: Broadcast, more: (air: AirState) => Partial<AirState> = () => ({})): void {
    const { station } = broadcast;
    this.#set((air) => ({ ...more(air), ...(station !== null && { broadcasts: { ...air.broadcasts, [station]: broadcast } }) }));
  }

  /** The engine's output of the mix a broadcast carries; −1 while the plan has none. */
  #slotOf(id: string): number {
    const station = Object.values(this.#air().broadcasts).find((one) => one.id === id)?.station;
    const listener = this.#air().stations.find((one) => one.id === station)?.settings.listener;
    return listener === undefined ? -1 : this.#options.plan.compiled().listenerIds.indexOf(listener);
  }

  #air(): AirState {
    return this.#options.store.getState().air;
  }

  #set(change: Partial<AirState> | ((air: AirState) => Partial<AirState>)): void {
    this.#options.store.setState(({ air }) => ({ air: { ...air, ...(typeof change === 'function' ? change(air) : change) } }));
  }

  #url(): string {
    return `/api/episodes/${this.#options.episode.id}/air`;
  }
}

/** Somebody is heard by their line now. */
const isThere = (state: string | undefined): boolean => state === 'live' || state === 'back' || state === 'plugged';
