import { directionReport, inboundCounters, lossOnTheWay, roundTripMs, type InboundCounters } from '@/core/lines/line-report';
import { DEFAULT_LINE } from '@/core/lines/line-settings';
import { fromDeskSchema, type GuestScene } from '@/core/lines/messages';
import type { StoreApi } from 'zustand/vanilla';
import { PeerLine, type SetUp } from '../lines/peer-line';
import type { UplinkReport } from '@/core/lines/home-pace';
import type { Wish } from '@/core/lines/check-messages';
import { FarCheck } from './far-check';
import type { GuestState } from './guest-state';

export interface GuestLineOptions {
  store: StoreApi<GuestState>;
  track(): MediaStreamTrack | null;
  send(body: SetUp): void;
  /** The desk was opened, or opened again: it wants to know how far we are. */
  onDesk(): void;
  onReload(): void;
  /** How the way to the desk is, about once a second; null when there is none. */
  onUplink(report: UplinkReport | null): void;
  /** The host wishes that nothing comes back from here. */
  onWish(wish: Wish): void;
  /** The connection is beyond mending: a new one is wanted. */
  onBroken(): void;
}

const MEASURE_MS = 1000;
/** Without a packet for so long the line is lost; packets come every 20 ms. */
const SILENT_MS = 1500;
/** A line that stays lost for so long is made anew. */
const GIVE_UP_MS = 9000;

/** The guest's end of the line to the desk: what is heard, what is sent and how it is. */
export class GuestLine {
  readonly #options: GuestLineOptions;
  readonly #player = new Audio();
  #peer: PeerLine | null = null;
  #iceServers: RTCIceServer[] = [];
  #counters: InboundCounters | null = null;
  #lostAt: number | null = null;
  #kbps = DEFAULT_LINE.voiceKbps;
  readonly #timer: ReturnType<typeof setInterval>;
  readonly #check: FarCheck;

  constructor(options: GuestLineOptions) {
    this.#options = options;
    const { store, track } = options;
    this.#check = new FarCheck({ store, played: () => this.#player.srcObject as MediaStream | null, microphone: track, say: (what) => this.say(what), onWish: options.onWish });
    this.#player.autoplay = true;
    this.#timer = setInterval(() => void this.#measure(), MEASURE_MS);
    window.addEventListener('online', this.#online);
  }

  setIceServers(servers: RTCIceServer[]): void {
    this.#iceServers = servers;
  }

  /** A message from the desk. */
  take(body: unknown): void {
    const message = fromDeskSchema.safeParse(body);
    if (!message.success) return;
    switch (message.data.type) {
      case 'desk-here':
        return this.#options.onDesk();
      case 'hung-up':
        return this.hangUp();
      case 'reload':
        return this.#options.onReload();
      case 'description':
      case 'candidate':
        return this.#setUp(message.data);
    }
  }

  async sendTrack(track: MediaStreamTrack | null): Promise<void> {
    await this.#peer?.sendTrack(track);
  }

  setVolume(volume: number): void {
    this.#player.volume = volume;
  }

  /** Lets the sound out after a press of a button. */
  async play(): Promise<void> {
    await this.#player.play().then(
      () => this.#options.store.setState({ blocked: false }),
      (error: DOMException) => error.name === 'NotAllowedError' && this.#options.store.setState({ blocked: true }),
    );
  }

  say(what: object): void {
    this.#peer?.say(what);
  }

  hangUp(): void {
    this.#peer?.close();
    this.#peer = null;
    this.#counters = null;
    this.#lostAt = null;
    this.#player.srcObject = null;
    this.#options.onUplink(null);
    this.#check.end();
    this.#options.store.setState({ line: 'none', scene: null, report: null, wholeLine: null });
  }

  close(): void {
    clearInterval(this.#timer);
    window.removeEventListener('online', this.#online);
    this.hangUp();
  }

  readonly #online = () => this.#peer?.restartIce(this.#iceServers);

  #setUp(body: SetUp): void {
    const isNew = body.type === 'description' && body.description.type === 'offer' && body.connection !== this.#peer?.connection;
    if (isNew) this.#begin(body.connection);
    if (this.#peer?.connection === body.connection) this.#peer.receive(body);
  }

  /** The desk begins a connection; the one before, if any, is over. */
  #begin(connection: string): void {
    const { store, track, send } = this.#options;
    this.#peer?.close();
    this.#counters = null;
    store.setState({ line: store.getState().line === 'none' ? 'connecting' : store.getState().line });
    const peer = new PeerLine({
      connection,
      polite: true,
      iceServers: this.#iceServers,
      wishes: { stereo: true, maxAverageBitrate: 256_000 },
      send,
      onStream: (stream) => {
        this.#player.srcObject = stream;
        void this.play();
      },
      onState: (state) => {
        if (peer !== this.#peer) return;
        if (state === 'connected') {
          store.setState({ line: 'connected' });
          this.#lostAt = null;
          void peer.setBitrate(this.#kbps).catch(() => undefined);
        }
        if (state === 'failed') peer.restartIce(this.#iceServers);
      },
      onSaid: (text) => this.#hear(text),
      onCanSay: () => undefined,
    });
    this.#peer = peer;
    void peer.sendTrack(track());
  }

  #hear(text: string): void {
    let said: GuestScene | { type: 'hung-up' | 'check' } | null;
    try {
      said = JSON.parse(text) as GuestScene | { type: 'hung-up' | 'check' } | null;
    } catch {
      return;
    }
    if (said?.type === 'hung-up') return this.hangUp();
    if (said?.type !== 'scene') return this.#check.hear(said);
    const scene = said;
    this.#options.store.setState({ scene });
    if (scene.voiceKbps === this.#kbps) return;
    this.#kbps = scene.voiceKbps;
    void this.#peer?.setBitrate(scene.voiceKbps).catch(() => undefined);
  }

  async #measure(): Promise<void> {
    const peer = this.#peer;
    if (!peer) return;
    const { store } = this.#options;
    const stats = await peer.stats();
    if (peer !== this.#peer) return;
    const now = inboundCounters(stats);
    const arriving = now !== null && now.lastPacketAt > 0 && performance.timeOrigin + performance.now() - now.lastPacketAt < SILENT_MS;
    if (arriving) this.#lostAt = null;
    else if (store.getState().line === 'connected' || store.getState().line === 'lost') this.#lostAt ??= performance.now();
    if (this.#lostAt !== null) {
      store.setState({ line: 'lost', report: null });
      if (performance.now() - this.#lostAt > GIVE_UP_MS) {
        this.#lostAt = performance.now();
        this.#options.onBroken();
      }
      return;
    }
    if (arriving) store.setState({ line: 'connected' });
    const roundTrip = roundTripMs(stats);
    this.#options.onUplink({ lossShare: lossOnTheWay(stats), roundTripMs: roundTrip });
    const report = this.#counters && now && directionReport(this.#counters, now, roundTrip);
    this.#counters = now;
    store.setState({ report, roundTripMs: roundTrip });
    peer.say({ type: 'report', report, muted: store.getState().muted });
  }
}
