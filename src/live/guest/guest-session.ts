import { createStore, type StoreApi } from 'zustand/vanilla';
import { gainToDb, powerToDb } from '@/core/dsp/decibels';
import type { GuestData } from '@/core/lines/guest-data';
import type { GuestPhase, GuestStatus } from '@/core/lines/messages';
import { judgeLevel } from '@/core/measure/level-judgement';
import { sendJson } from '../api';
import { createMessagePost, type MessagePost } from '../lines/message-post';
import { openMessageStream, type MessageStream } from '../lines/message-stream';
import { windowId } from '../lines/window-id';
import { GuestAudio } from './guest-audio';
import { GuestLine } from './guest-line';
import { initialGuestState, type GuestState } from './guest-state';
import { playTestCall } from './test-call';

/** What is remembered over a reload of this window. */
interface Remembered {
  name: string;
  ready: boolean;
  deviceId: string | null;
  echoCancellation: boolean;
  headphones: GuestState['headphones'];
  muted: boolean;
}

const LEVEL_MS = 50;
/** The judgement looks back so long. */
const JUDGED_READINGS = 80;
/** Speech is the mean of this many readings: 400 ms. */
const SPEECH_READINGS = 8;
const PATIENCE_MS = 4000;

/**
 * Everything a guest does, from the link to the end of the call. The page reads `store` and calls the
 * methods. What a reload would lose is kept with the window.
 */
export class GuestSession {
  readonly data: GuestData;
  readonly store: StoreApi<GuestState>;
  readonly #headers: Record<string, string>;
  readonly #key: string;
  readonly #line: GuestLine;
  #audio: GuestAudio | null = null;
  #stream: MediaStream | null = null;
  #box: MessageStream | null = null;
  #post: MessagePost | null = null;
  #page: string = crypto.randomUUID();
  #levels: { peak: number; meanSquare: number }[] = [];
  #levelTimer: ReturnType<typeof setInterval> | undefined;
  #endTestCall: (() => void) | null = null;

  constructor(token: string, data: GuestData) {
    this.data = data;
    this.#headers = { authorization: `Bearer ${token}` };
    this.#key = `brisk-lantern-guest-${data.seat}-${token.slice(0, 8)}`;
    this.store = createStore(() => initialGuestState(data.name));
    this.#line = new GuestLine({
      store: this.store,
      track: () => this.#stream?.getAudioTracks()[0] ?? null,
      send: (body) => this.#send(body),
      onDesk: () => this.#report(),
      onReload: () => location.reload(),
      onBroken: () => this.#askAnew(),
    });
  }

  /** Opens the way to the desk; a window that was reloaded goes on where it was. */
  open(): void {
    navigator.mediaDevices?.addEventListener('devicechange', this.#devicesChanged);
    this.#openBox(false, performance.now() + PATIENCE_MS);
    const before = this.#remembered();
    if (!before) return;
    this.store.setState({ name: before.name, echoCancellation: before.echoCancellation, headphones: before.headphones, muted: before.muted });
    this.#setPhase('checking');
    void this.openMicrophone(before.deviceId).then(() => {
      if (before.ready && this.store.getState().microphone.kind === 'open') this.goIn();
    });
  }

  close(): void {
    navigator.mediaDevices?.removeEventListener('devicechange', this.#devicesChanged);
    clearInterval(this.#levelTimer);
    this.#box?.close();
    this.#post?.close();
    this.#line.close();
    this.#stopMicrophone();
    void this.#audio?.close();
  }

  /** Uses the link here, whatever other window has it. */
  useHere(): void {
    this.#openBox(true, 0);
  }

  /** The guest has said who they are and agreed to be recorded. @throws {ServerError} */
  async agree(name: string): Promise<void> {
    await sendJson('POST', '/api/guest/consent', { name, wording: this.data.consent }, { headers: this.#headers });
    this.store.setState({ name });
    this.#setPhase('checking');
    await this.openMicrophone(null);
  }

  /** Opens a microphone by its id, or the one the browser offers; it is then held by its id. */
  async openMicrophone(deviceId: string | null): Promise<void> {
    const { echoCancellation } = this.store.getState();
    this.store.setState({ microphone: { kind: 'asking' } });
    try {
      const stream = await navigator.mediaDevices.getUserMedia({
        audio: {
          ...(deviceId ? { deviceId: { exact: deviceId } } : {}),
          // Sound is taken as it is; only who has no headphones gets their echo cancelled.
          echoCancellation,
          noiseSuppression: false,
          autoGainControl: false,
        },
      });
      this.#stopMicrophone();
      const [track] = stream.getAudioTracks();
      this.#stream = stream;
      track.enabled = !this.store.getState().muted;
      track.addEventListener('ended', this.#microphoneEnded);
      this.#audio ??= new GuestAudio();
      this.#audio.follow(stream);
      this.#levels = [];
      this.#levelTimer ??= setInterval(() => this.#readLevel(), LEVEL_MS);
      this.store.setState({ microphone: { kind: 'open', label: track.label || 'Microphone', deviceId: track.getSettings().deviceId ?? '' } });
      await this.#line.sendTrack(track);
    } catch (error) {
      this.store.setState({ microphone: { kind: 'trouble', words: troubleWith(error as Error) } });
    }
    await this.#listDevices();
    this.#remember();
    this.#report();
  }

  async setEchoCancellation(echoCancellation: boolean): Promise<void> {
    this.store.setState({ echoCancellation });
    const { microphone } = this.store.getState();
    await this.openMicrophone(microphone.kind === 'open' ? microphone.deviceId : null);
  }

  async testHeadphones(): Promise<void> {
    if (!this.#audio) return;
    this.store.setState({ headphones: { state: 'testing' } });
    try {
      const heard = await this.#audio.testHeadphones();
      this.store.setState({ headphones: { state: 'tested', heard } });
    } catch {
      this.store.setState({ headphones: { state: 'untested' } });
    }
    this.#remember();
    this.#report();
  }

  /** Five seconds of one's own voice, coded as in the call and played back once. */
  testCall(): void {
    const track = this.#stream?.getAudioTracks()[0];
    if (!track) return;
    this.#endTestCall?.();
    this.#endTestCall = playTestCall(track, (testCall) => this.store.setState({ testCall }));
  }

  /** Checked and ready: into the waiting room. */
  goIn(): void {
    this.#endTestCall?.();
    this.#setPhase('ready');
    void this.#line.play();
  }

  setMuted(muted: boolean): void {
    this.store.setState({ muted });
    const track = this.#stream?.getAudioTracks()[0];
    if (track) track.enabled = !muted;
    this.#remember();
    this.#line.say({ type: 'report', report: this.store.getState().report, muted });
  }

  setVolume(volume: number): void {
    this.store.setState({ volume });
    this.#line.setVolume(volume);
  }

  letSoundOut(): void {
    void this.#line.play();
  }

  /** A producer talks privately to these seats; nobody for the end. */
  talkTo(seats: string[]): void {
    this.store.setState({ talkingTo: seats });
    this.#line.say({ type: 'talk', to: seats });
  }

  leave(): void {
    this.#setPhase('left');
    this.#line.hangUp();
    this.#stopMicrophone();
    this.store.setState({ microphone: { kind: 'none' } });
    sessionStorage.removeItem(this.#key);
  }

  /** Comes again after leaving. */
  comeBack(): void {
    this.#setPhase('checking');
    void this.openMicrophone(null);
  }

  /** The newest reading of the microphone, for a meter. */
  level(): { peak: number; meanSquare: number } {
    return this.#levels.at(-1) ?? { peak: 0, meanSquare: 0 };
  }

  #openBox(takeOver: boolean, patientUntil: number): void {
    this.#box?.close();
    this.#post ??= createMessagePost('/api/guest/messages', this.#headers, ({ code, message }) => {
      if (code === 'link-revoked' || code === 'link-expired') this.#end(message);
    });
    this.#box = openMessageStream<{ iceServers: RTCIceServer[] }>({
      url: `/api/guest/messages?window=${windowId()}&takeOver=${takeOver}`,
      headers: this.#headers,
      onOpen: ({ iceServers }) => {
        this.#line.setIceServers(iceServers);
        this.#post?.go();
        this.store.setState({ box: 'open' });
        this.#report();
      },
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
          setTimeout(() => this.#openBox(false, patientUntil), 250);
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
    this.#stopMicrophone();
    this.store.setState({ box: 'ended', ended: words });
  }

  #setPhase(phase: GuestPhase): void {
    this.store.setState({ phase });
    this.#remember();
    this.#report();
  }

  #askAnew(): void {
    this.#page = crypto.randomUUID();
    this.#report();
  }

  #report(): void {
    const { phase, name, muted, microphone, headphones, echoCancellation, box } = this.store.getState();
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
    };
    this.#send(status);
  }

  #send(body: object): void {
    this.#post?.send({ window: windowId(), body });
  }

  #readLevel(): void {
    if (!this.#audio) return;
    this.#levels = [...this.#levels.slice(1 - JUDGED_READINGS), this.#audio.level()];
    const peak = Math.max(...this.#levels.map((reading) => reading.peak));
    let loudest = 0;
    for (let k = SPEECH_READINGS; k <= this.#levels.length; k++) {
      const stretch = this.#levels.slice(k - SPEECH_READINGS, k);
      loudest = Math.max(loudest, stretch.reduce((sum, { meanSquare }) => sum + meanSquare, 0) / SPEECH_READINGS);
    }
    const judgement = judgeLevel(gainToDb(peak), powerToDb(loudest));
    if (judgement !== this.store.getState().judgement) this.store.setState({ judgement });
  }

  #stopMicrophone(): void {
    for (const track of this.#stream?.getTracks() ?? []) {
      track.removeEventListener('ended', this.#microphoneEnded);
      track.stop();
    }
    this.#stream = null;
    this.#audio?.follow(null);
  }

  readonly #microphoneEnded = () => {
    this.store.setState({ microphone: { kind: 'trouble', words: 'Your microphone went away. Plug it in again, or choose another one.' } });
    this.#report();
  };

  /** A microphone that comes back is taken up again; nothing else is switched by itself. */
  readonly #devicesChanged = () => {
    void this.#listDevices().then(() => {
      const { microphone, devices, phase } = this.store.getState();
      const wanted = this.#remembered()?.deviceId;
      const isBack = microphone.kind === 'trouble' && wanted && devices.some(({ deviceId }) => deviceId === wanted);
      if (isBack && phase !== 'opened' && phase !== 'left') void this.openMicrophone(wanted);
    });
  };

  async #listDevices(): Promise<void> {
    const devices = (await navigator.mediaDevices?.enumerateDevices().catch(() => [])) ?? [];
    this.store.setState({
      devices: devices.filter(({ kind, deviceId }) => kind === 'audioinput' && deviceId !== '').map(({ deviceId, label }) => ({ deviceId, label: label || 'Microphone' })),
    });
  }

  #remember(): void {
    const { phase, name, microphone, echoCancellation, headphones, muted } = this.store.getState();
    if (phase === 'opened' || phase === 'left') return;
    const kept: Remembered = {
      name,
      ready: phase === 'ready',
      deviceId: microphone.kind === 'open' ? microphone.deviceId : (this.#remembered()?.deviceId ?? null),
      echoCancellation,
      headphones: headphones.state === 'testing' ? { state: 'untested' } : headphones,
      muted,
    };
    sessionStorage.setItem(this.#key, JSON.stringify(kept));
  }

  #remembered(): Remembered | null {
    const text = sessionStorage.getItem(this.#key);
    return text === null ? null : (JSON.parse(text) as Remembered);
  }
}

function troubleWith(error: Error): string {
  switch (error.name) {
    case 'NotAllowedError':
      return 'This page may not use your microphone. Allow it in the address bar of your browser, then try again.';
    case 'NotFoundError':
    case 'OverconstrainedError':
      return 'No microphone was found. Plug one in, or use a device that has one, then try again.';
    case 'NotReadableError':
      return 'Another program holds your microphone. Close it there, then try again.';
    case 'TypeError':
      return 'This browser gives no microphone to pages without a secure address (https). Ask your host for a secure link.';
    default:
      return `Your microphone could not be opened (${error.message}). Try again.`;
  }
}
