import { createStore, type StoreApi } from 'zustand/vanilla';
import type { GuestData } from '@/core/lines/guest-data';
import type { Answer } from '@/core/lines/check-messages';
import type { GuestPhase, GuestStatus } from '@/core/lines/messages';
import { sendJson, type ServerError } from '../api';
import { createMessagePost, type MessagePost } from '../lines/message-post';
import { openMessageStream, type MessageStream } from '../lines/message-stream';
import { windowId } from '../lines/window-id';
import { tryNetwork } from '../reach/try-network';
import { GuestInput } from './guest-input';
import { GuestLine } from './guest-line';
import { GuestMemory } from './guest-memory';
import { HomeRecorder } from './home-recorder';
import { initialGuestState, type GuestState } from './guest-state';

/** After a reload the window's own earlier stream may still be open for so long. */
const PATIENCE_MS = 4000;

/**
 * Everything a guest does, from the link to the end of the call. The page reads `store` and calls the
 * methods. What a reload would lose is kept with the window.
 */
export class GuestSession {
  readonly data: GuestData;
  readonly store: StoreApi<GuestState>;
  readonly input: GuestInput;
  readonly #headers: Record<string, string>;
  readonly #memory: GuestMemory;
  readonly #line: GuestLine;
  readonly #home: HomeRecorder;
  #box: MessageStream | null = null;
  #post: MessagePost | null = null;
  #page: string = crypto.randomUUID();
  #iceServers: RTCIceServer[] = [];

  constructor(token: string, data: GuestData) {
    this.data = data;
    this.#headers = { authorization: `Bearer ${token}` };
    this.#memory = new GuestMemory(data.seat, token);
    this.store = createStore(() => initialGuestState(data.name));
    this.#home = new HomeRecorder({ store: this.store, headers: this.#headers });
    this.input = new GuestInput({
      store: this.store,
      wanted: () => this.#memory.recall()?.deviceId ?? null,
      follow: (stream) => this.#home.follow(stream),
      opened: (track) => this.#line.sendTrack(track),
      changed: () => this.#changed(),
    });
    this.#line = new GuestLine({
      store: this.store,
      track: () => this.input.track(),
      send: (body) => this.#send(body),
      onDesk: () => this.#report(),
      onReload: () => location.reload(),
      onBroken: () => this.#askAnew(),
      onWish: (wish) => {
        this.store.setState({ wish });
        if (wish.cancel) this.#cancelEcho(true);
      },
      onUplink: (report) => this.#home.line(report),
    });
    // A line that is lost for a moment does not end what is recorded here.
    this.store.subscribe(({ scene, line }) => void this.#home.onTake(line === 'none' ? null : (scene?.take ?? null)));
  }

  /** Opens the way to the desk; a window that was reloaded goes on where it was. */
  open(): void {
    this.input.watch();
    // Said by the page and not by its address: a preview that fetches the address is nobody who opened it.
    void sendJson('POST', '/api/guest/opened', {}, { headers: this.#headers }).catch(() => undefined);
    this.#openBox(performance.now() + PATIENCE_MS);
    void this.#home.takeUp();
    const before = this.#memory.recall();
    if (!before) return;
    this.store.setState({ name: before.name, echoCancellation: before.echoCancellation, headphones: before.headphones, muted: before.muted });
    this.#setPhase('checking');
    void this.input.open(before.deviceId).then(() => {
      if (before.ready && this.store.getState().microphone.kind === 'open') this.goIn();
    });
  }

  close(): void {
    this.#box?.close();
    this.#post?.close();
    this.#line.close();
    this.input.close();
    void this.#home.close();
  }

  /** Uses the link here, whatever other window has it. */
  async useHere(): Promise<void> {
    await sendJson('POST', '/api/guest/window', { window: windowId() }, { headers: this.#headers }).then(
      () => this.#openBox(0),
      // The page stays as it is; pressing again tries again.
      (error: ServerError) => (error.status === 0 ? undefined : this.#end(error.message)),
    );
  }

  /** The guest has said who they are and agreed to be recorded. @throws {ServerError} */
  async agree(name: string): Promise<void> {
    await sendJson('POST', '/api/guest/consent', { name, wording: this.data.consent }, { headers: this.#headers });
    this.store.setState({ name });
    this.#setPhase('checking');
    await this.input.open(null);
  }

  /** Looks what this network lets through. */
  tryNetwork(): void {
    if (this.store.getState().network === 'trying') return;
    this.store.setState({ network: 'trying' });
    void tryNetwork(this.#iceServers).then(
      (network) => {
        this.store.setState({ network });
        this.#report();
      },
      () => this.store.setState({ network: null }),
    );
  }

  #setIceServers(iceServers: RTCIceServer[]): void {
    this.#iceServers = iceServers;
    this.#line.setIceServers(iceServers);
    if (this.store.getState().network === null && this.store.getState().phase !== 'left') this.tryNetwork();
  }

  /** Checked and ready: into the waiting room. */
  goIn(): void {
    this.input.endTestCall();
    this.#setPhase('ready');
    void this.#line.play();
  }

  setMuted(muted: boolean): void {
    this.input.setMuted(muted);
    this.#memory.remember(this.store.getState());
    this.#line.say({ type: 'report', report: this.store.getState().report, muted });
  }

  setVolume(volume: number): void {
    this.store.setState({ volume });
    this.#line.setVolume(volume);
  }

  /** After a press of a button: the call is heard, levels are seen and what is to be recorded here is. */
  letSoundOut(): void {
    void this.#line.play();
    void this.input.letSoundOn();
    void this.#home.letSoundOn();
  }

  /** A producer talks privately to these seats; nobody for the end. */
  talkTo(seats: string[]): void {
    this.store.setState({ talkingTo: seats });
    this.#line.say({ type: 'talk', to: seats });
  }

  leave(): void {
    this.#setPhase('left');
    this.#line.hangUp();
    this.input.stop();
    this.store.setState({ microphone: { kind: 'none' } });
    this.#memory.forget();
  }

  /** Comes again after leaving. */
  comeBack(): void {
    this.#setPhase('checking');
    void this.input.open(null);
  }

  #openBox(patientUntil: number): void {
    this.#box?.close();
    this.#post ??= createMessagePost('/api/guest/messages', this.#headers, ({ code, message }) => {
      if (code === 'link-revoked' || code === 'link-expired') this.#end(message);
    });
    this.#box = openMessageStream<{ iceServers: RTCIceServer[] }>({
      url: `/api/guest/messages?window=${windowId()}`,
      headers: this.#headers,
      onOpen: ({ iceServers }) => {
        this.#setIceServers(iceServers);
        this.#post?.go();
        this.store.setState({ box: 'open' });
        this.#report();
      },
      onRenew: ({ iceServers }) => iceServers && this.#setIceServers(iceServers),
      onMessage: ({ body }) => {
        const { type } = body as { type: string };
        if (type === 'ousted') this.#giveWay();
        else if (type === 'revoked') this.#end('Your host has ended this link. Thank you for coming.');
        else this.#line.take(body);
      },
      onAway: () => {
        this.#post?.hold();
        this.store.setState({ box: 'away' });
      },
      onRefused: (code, words) => {
        if (code === 'open-elsewhere' && performance.now() < patientUntil) {
          setTimeout(() => this.#openBox(patientUntil), 250);
        } else if (code === 'open-elsewhere') this.#giveWay();
        else this.#end(words);
      },
    });
  }

  /** Another window uses the link: this one is silent, so that nobody is heard twice. */
  #giveWay(): void {
    this.#box?.close();
    this.#line.hangUp();
    this.store.setState({ box: 'elsewhere' });
  }

  #end(words: string): void {
    this.#box?.close();
    this.#post?.close();
    this.#line.hangUp();
    this.input.stop();
    this.store.setState({ box: 'ended', ended: words });
  }

  #setPhase(phase: GuestPhase): void {
    this.store.setState({ phase });
    this.#changed();
  }

  #changed(): void {
    this.#memory.remember(this.store.getState());
    this.#report();
  }

  /** Answers what the host asked. */
  answer(answer: Answer): void {
    this.#line.say(answer);
  }

  /** Their own voice over the whole line, there and back: the desk does it while they wait. */
  hearMyself(): void {
    this.store.setState({ wholeLine: 'asked' });
    this.#line.say({ type: 'hear-myself' });
  }

  /** What the guest does about the host's wish: with headphones on their browser need not cancel. */
  answerWish(answer: 'seen' | 'headphones' | 'cancel'): void {
    this.store.setState({ wish: null });
    if (answer !== 'seen') this.#cancelEcho(answer === 'cancel');
  }

  #cancelEcho(cancel: boolean): void {
    if (this.store.getState().echoCancellation !== cancel) void this.input.setEchoCancellation(cancel).then(() => this.#changed());
  }

  closeAsk(): void {
    this.store.setState({ ask: null });
  }

  #askAnew(): void {
    this.#page = crypto.randomUUID();
    this.#report();
  }

  #report(): void {
    const { phase, name, muted, microphone, headphones, echoCancellation, network, box } = this.store.getState();
    if (box !== 'open') return;
    const heard = headphones.state === 'tested' ? headphones.heard : null;
    const status: GuestStatus = {
      type: 'status',
      page: this.#page,
      phase,
      name,
      muted,
      microphone: microphone.kind === 'open' ? microphone.label.slice(0, 120) : null,
      echoDb: heard?.levelDb ?? null,
      echoDelayMs: heard?.delayMs ?? null,
      tested: heard !== null,
      echoCancellation,
      network: network === 'trying' ? null : network,
    };
    this.#send(status);
  }

  #send(body: object): void {
    this.#post?.send({ window: windowId(), body });
  }
}
