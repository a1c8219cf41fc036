import { createJitterTarget } from '@/core/lines/jitter-target';
import { directionReport, inboundCounters, roundTripMs, type DirectionReport, type InboundCounters, type LineReport } from '@/core/lines/line-report';
import type { LineSettings } from '@/core/lines/line-settings';
import { lineAfter, newLine, type Line, type LineEvent } from '@/core/lines/line-state';
import { overLineFromGuestSchema, type FromGuest, type GuestScene, type GuestStatus } from '@/core/lines/messages';
import type { Answer, Ask, CheckForGuest, CheckReport, TestCallSaid, Wish } from '@/core/lines/check-messages';
import type { LineAudio } from './line-audio';
import { PeerLine, type SetUp } from './peer-line';

export interface DeskLineOptions {
  seat: string;
  invited: boolean;
  admitted: boolean;
  settings: LineSettings;
  iceServers(): RTCIceServer[];
  /** Opens the line's place in the audio thread; null while no call runs. */
  openAudio(): LineAudio | null;
  send(body: SetUp | { type: 'desk-here' } | { type: 'hung-up' } | { type: 'reload' }): void;
  /** Something to show: at once, or with what comes in the next moment. */
  onChange(when: 'now' | 'later'): void;
  onReport(report: LineReport): void;
  /** Sound stopped, or came, `agoMs` before now. */
  onMedia(flowing: boolean, agoMs: number): void;
  /** A producer wishes to talk privately to these seats. */
  onTalk(to: string[]): void;
  /** What the guest's page measured of a line check, or the guest says of what they hear, or wishes to hear themselves. */
  onChecked(what: CheckReport | Answer | { type: 'hear-myself' }): void;
}

const SECOND_MS = 1000;
/** Ten minutes of reports. */
const MOST_HISTORY = 600;
/** Packets come every 20 ms; without any for so long the line is lost. */
const SILENT_MS = 1200;
/** A connection that is not there after so long is made anew: a machine or network that is slow gets twice as long each time. */
const GIVE_UP_MS = 12_000;
const LONGEST_GIVE_UP_MS = 48_000;
/** A broken connection gets so long to find another way before it is made anew. */
const RESTART_MS = 8000;

/** The desk's end of one link: its connection, its state and what is known of it. */
export class DeskLine {
  readonly seat: string;
  line: Line;
  /** Counts whatever the screens show of this line, so that what stayed the same is not drawn again. */
  changes = 0;
  status: GuestStatus | null = null;
  report: LineReport | null = null;
  /** The last minutes, newest last. */
  history: { atMs: number; report: LineReport }[] = [];
  muted = false;
  readonly #options: DeskLineOptions;
  #settings: LineSettings;
  #peer: PeerLine | null = null;
  #audio: LineAudio | null = null;
  #page = '';
  #began = 0;
  #giveUpMs = GIVE_UP_MS;
  #brokenAt: number | null = null;
  #counters: InboundCounters | null = null;
  #toGuest: DirectionReport | null = null;
  #flowing = false;
  #jitter = createJitterTarget();
  #measuring = false;
  #scene: GuestScene | null = null;

  constructor(options: DeskLineOptions) {
    this.#options = options;
    this.#settings = options.settings;
    this.seat = options.seat;
    this.line = newLine(options.invited, options.admitted, Date.now());
  }

  /** The seat has this window open now; null for none. */
  window(window: string | null): void {
    this.#apply({ type: 'window', window });
    if (window === null) this.#changed('now');
  }

  invitation(invited: boolean): void {
    this.#apply({ type: 'invitation', invited });
  }

  admitted(admitted: boolean): void {
    this.#apply({ type: 'admitted', admitted });
  }

  take(body: FromGuest): void {
    if (body.type !== 'status') {
      if (this.#peer && body.connection === this.#peer.connection) this.#peer.receive(body);
      return;
    }
    const newPage = body.page !== this.#page;
    if (newPage) this.#giveUpMs = GIVE_UP_MS;
    this.#page = body.page;
    this.status = body;
    if (body.phase !== 'ready') this.#disconnect();
    this.#apply({ type: 'phase', phase: body.phase });
    if (body.phase === 'ready' && (newPage || !this.#peer)) this.connect();
    this.#changed('now');
  }

  /** Makes a new connection with the page that is ready, when a call runs. */
  connect(): void {
    this.#disconnect();
    if (this.line.phase !== 'ready' || this.line.window === null) return;
    const audio = this.#options.openAudio();
    if (!audio) return;
    this.#audio = audio;
    this.#began = Date.now();
    const peer = new PeerLine({
      connection: crypto.randomUUID(),
      polite: false,
      iceServers: this.#options.iceServers(),
      wishes: { stereo: false, maxAverageBitrate: this.#settings.voiceKbps * 1000 },
      sends: { stereo: this.#settings.stereoReturn, maxAverageBitrate: this.#settings.returnKbps * 1000 },
      send: this.#options.send,
      onStream: (stream) => audio.receive(stream),
      onState: (state) => this.#onConnection(state),
      onSaid: (text) => this.#hear(text),
      onCanSay: () => this.#scene && peer.say(this.#scene),
    });
    this.#peer = peer;
    this.#brokenAt = null;
    peer.begin(audio.track);
    void peer.setBitrate(this.#settings.returnKbps).catch(() => undefined);
  }

  /** Bitrates change at once; stereo changes with the next connection, which nobody on air needs to notice. */
  settings(settings: LineSettings): void {
    const otherwise = settings.stereoReturn !== this.#settings.stereoReturn;
    this.#settings = settings;
    if (otherwise && !this.line.admitted) return this.connect();
    void this.#peer?.setBitrate(settings.returnKbps).catch(() => undefined);
  }

  askReload(): void {
    this.#options.send({ type: 'reload' });
  }

  /** What the guest's page shows from now on. */
  tell(scene: GuestScene): void {
    this.#scene = scene;
    this.#peer?.say(scene);
  }

  /** Something of a check. False where nobody hears it. */
  check(what: CheckForGuest | Ask | TestCallSaid | Wish): boolean {
    // Whether their sound has come already is another matter: what they hear is asked.
    return this.#peer?.say(what) ?? false;
  }

  /** Reads the statistics; called about once a second. */
  async measure(): Promise<void> {
    this.#apply({ type: 'tick' });
    const peer = this.#peer;
    if (!peer || this.#measuring) return;
    this.#measuring = true;
    try {
      const stats = await peer.stats();
      if (peer !== this.#peer) return;
      this.#read(stats);
      this.#mend(peer);
    } finally {
      this.#measuring = false;
    }
  }

  /** The call ended: the connection goes, the guest stays. */
  hangUp(): void {
    // Over the line itself as well: the server may be away, and the window may be closed before it is back.
    this.#peer?.say({ type: 'hung-up' });
    if (this.#peer) this.#options.send({ type: 'hung-up' });
    this.#disconnect();
    this.#apply({ type: 'hung-up' });
  }

  /** The desk is elsewhere now, or the seat is gone: no word to the guest, who may be called again at once. */
  close(): void {
    this.#disconnect();
    this.#apply({ type: 'hung-up' });
  }

  #read(stats: Record<string, unknown>[]): void {
    const now = inboundCounters(stats);
    if (!now || now.lastPacketAt === 0) return;
    const agoMs = performance.timeOrigin + performance.now() - now.lastPacketAt;
    this.#setFlowing(agoMs < SILENT_MS, agoMs);
    if (this.#counters && now.at - this.#counters.at < SECOND_MS * 0.9) return;
    if (this.#counters && this.#flowing) {
      const roundTrip = roundTripMs(stats);
      const toDesk = directionReport(this.#counters, now, roundTrip);
      this.report = { roundTripMs: roundTrip, toDesk, toGuest: this.#toGuest };
      this.history = [...this.history.slice(1 - MOST_HISTORY), { atMs: Date.now(), report: this.report }];
      if (toDesk) this.#peer?.setJitterTarget(this.#jitter.second(toDesk.concealedMs));
      this.#options.onReport(this.report);
      this.#changed('later');
    }
    this.#counters = now;
  }

  #setFlowing(flowing: boolean, agoMs: number): void {
    if (flowing === this.#flowing) return;
    this.#flowing = flowing;
    this.#apply({ type: 'media', flowing });
    this.#options.onMedia(flowing, agoMs);
  }

  /** A connection that does not come, or does not come back, is made anew. */
  #mend(peer: PeerLine): void {
    const now = Date.now();
    const slow = peer.state !== 'connected' && this.#brokenAt === null && now - this.#began > this.#giveUpMs;
    const broken = this.#brokenAt !== null && now - this.#brokenAt > RESTART_MS;
    if (slow) this.#giveUpMs = Math.min(LONGEST_GIVE_UP_MS, 2 * this.#giveUpMs);
    if (slow || broken) this.connect();
  }

  #onConnection(state: RTCPeerConnectionState): void {
    if (state === 'connected') {
      this.#brokenAt = null;
      this.#giveUpMs = GIVE_UP_MS;
    }
    if (state === 'disconnected' || state === 'failed') {
      this.#brokenAt ??= Date.now();
      this.#peer?.restartIce(this.#options.iceServers());
    }
    this.#changed('now');
  }

  #hear(text: string): void {
    const said = overLineFromGuestSchema.safeParse(parsed(text));
    if (!said.success) return;
    if (said.data.type === 'talk') return this.#options.onTalk(said.data.to);
    if (said.data.type !== 'report') return this.#options.onChecked(said.data);
    this.#toGuest = said.data.report;
    this.muted = said.data.muted;
  }

  #changed(when: 'now' | 'later'): void {
    this.changes++;
    this.#options.onChange(when);
  }

  #apply(event: LineEvent): void {
    const next = lineAfter(this.line, event, Date.now());
    if (next === this.line) return;
    this.line = next;
    this.#changed('now');
  }

  #disconnect(): void {
    this.#setFlowing(false, 0);
    this.#peer?.close();
    this.#audio?.close();
    this.#peer = null;
    this.#audio = null;
    this.#counters = null;
    this.#toGuest = null;
    this.report = null;
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
