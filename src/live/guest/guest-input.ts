import type { StoreApi } from 'zustand/vanilla';
import { gainToDb, powerToDb } from '@/core/dsp/decibels';
import { judgeLevel } from '@/core/measure/level-judgement';
import { GuestAudio } from './guest-audio';
import type { GuestState } from './guest-state';
import { playTestCall } from './test-call';

const LEVEL_MS = 50;
/** Sound that is still after so long is said to be. */
const SAY_STOPPED_MS = 1500;
/** The judgement looks back so long. */
const JUDGED_READINGS = 80;
/** Speech is the mean of this many readings: 400 ms. */
const SPEECH_READINGS = 8;

interface GuestInputOptions {
  store: StoreApi<GuestState>;
  /** The device this window used last. */
  wanted(): string | null;
  /** What is heard goes here too from now on, or nothing does. */
  follow(stream: MediaStream | null): void;
  /** A microphone is open: the line sends it. */
  opened(track: MediaStreamTrack): Promise<void>;
  /** Something of it is other now: it is remembered, and the desk is told. */
  changed(): void;
}

/** The guest's microphone: opened, watched, tested, muted, and taken up again when it comes back. */
export class GuestInput {
  readonly #options: GuestInputOptions;
  readonly #store: StoreApi<GuestState>;
  #audio: GuestAudio | null = null;
  #stream: MediaStream | null = null;
  #levels: { peak: number; meanSquare: number }[] = [];
  #levelTimer: ReturnType<typeof setInterval> | undefined;
  #endTestCall: (() => void) | null = null;
  #stoppedReadings = 0;

  constructor(options: GuestInputOptions) {
    this.#options = options;
    this.#store = options.store;
  }

  /** Notices from now on which devices come and go. */
  watch(): void {
    navigator.mediaDevices?.addEventListener('devicechange', this.#devicesChanged);
  }

  close(): void {
    navigator.mediaDevices?.removeEventListener('devicechange', this.#devicesChanged);
    clearInterval(this.#levelTimer);
    this.stop();
    void this.#audio?.close();
  }

  track(): MediaStreamTrack | null {
    return this.#stream?.getAudioTracks()[0] ?? null;
  }

  /** The newest reading, for a meter. */
  level(): { peak: number; meanSquare: number } {
    return this.#levels.at(-1) ?? { peak: 0, meanSquare: 0 };
  }

  /** Opens a microphone by its id, or the one the browser offers; it is then held by its id. */
  async open(deviceId: string | null): Promise<void> {
    const { echoCancellation } = this.#store.getState();
    this.#store.setState({ microphone: { kind: 'asking' } });
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
      await this.#use(stream);
    } catch (error) {
      this.#store.setState({ microphone: { kind: 'trouble', words: troubleWith(error as Error) } });
    }
    await this.#listDevices();
    this.#options.changed();
  }

  stop(): void {
    for (const track of this.#stream?.getTracks() ?? []) {
      track.removeEventListener('ended', this.#ended);
      track.stop();
    }
    this.#stream = null;
    this.#audio?.follow(null);
    this.#options.follow(null);
  }

  setMuted(muted: boolean): void {
    this.#store.setState({ muted });
    const track = this.track();
    if (track) track.enabled = !muted;
  }

  async setEchoCancellation(echoCancellation: boolean): Promise<void> {
    this.#store.setState({ echoCancellation });
    const { microphone } = this.#store.getState();
    await this.open(microphone.kind === 'open' ? microphone.deviceId : null);
  }

  async testHeadphones(): Promise<void> {
    if (!this.#audio) return;
    this.#store.setState({ headphones: { state: 'testing' } });
    try {
      const heard = await this.#audio.testHeadphones();
      this.#store.setState({ headphones: { state: 'tested', heard } });
    } catch {
      this.#store.setState({ headphones: { state: 'failed' } });
    }
    this.#options.changed();
  }

  /** Five seconds of one's own voice, coded as in the call and played back once. */
  testCall(): void {
    const track = this.track();
    if (!track) return;
    this.endTestCall();
    this.#endTestCall = playTestCall(track, (testCall) => this.#store.setState({ testCall }));
  }

  endTestCall(): void {
    this.#endTestCall?.();
    this.#endTestCall = null;
  }

  async #use(stream: MediaStream): Promise<void> {
    this.stop();
    const [track] = stream.getAudioTracks();
    this.#stream = stream;
    track.enabled = !this.#store.getState().muted;
    track.addEventListener('ended', this.#ended);
    this.#audio ??= new GuestAudio();
    this.#audio.follow(stream);
    this.#options.follow(stream);
    this.#levels = [];
    this.#levelTimer ??= setInterval(() => this.#readLevel(), LEVEL_MS);
    this.#store.setState({ microphone: { kind: 'open', label: track.label || 'Microphone', deviceId: track.getSettings().deviceId ?? '' } });
    await this.#options.opened(track);
  }

  /** Lets the sound of this page go on, after a press of a button. */
  async letSoundOn(): Promise<void> {
    await this.#audio?.letOn();
    this.#lookAtSound();
  }

  #lookAtSound(): void {
    const soundStopped = this.#audio !== null && this.#stream !== null && !this.#audio.isRunning();
    // A context takes a moment to begin; what is said of it at once would be taken back.
    this.#stoppedReadings = soundStopped ? this.#stoppedReadings + 1 : 0;
    const said = this.#stoppedReadings * LEVEL_MS > SAY_STOPPED_MS;
    if (said !== this.#store.getState().soundStopped && (said || !soundStopped)) this.#store.setState({ soundStopped: said });
  }

  #readLevel(): void {
    if (!this.#audio) return;
    this.#lookAtSound();
    this.#levels = [...this.#levels.slice(1 - JUDGED_READINGS), this.#audio.level()];
    const peak = Math.max(...this.#levels.map((reading) => reading.peak));
    let loudest = 0;
    for (let k = SPEECH_READINGS; k <= this.#levels.length; k++) {
      const stretch = this.#levels.slice(k - SPEECH_READINGS, k);
      loudest = Math.max(loudest, stretch.reduce((sum, { meanSquare }) => sum + meanSquare, 0) / SPEECH_READINGS);
    }
    const judgement = judgeLevel(gainToDb(peak), powerToDb(loudest));
    if (judgement !== this.#store.getState().judgement) this.#store.setState({ judgement });
  }

  readonly #ended = () => {
    this.#store.setState({ microphone: { kind: 'trouble', words: 'Your microphone went away. Plug it in again, or choose another one.' } });
    this.#options.changed();
  };

  /** A microphone that comes back is taken up again; nothing else is switched by itself. */
  readonly #devicesChanged = () => {
    void this.#listDevices().then(() => {
      const { microphone, devices, phase } = this.#store.getState();
      const wanted = this.#options.wanted();
      const isBack = microphone.kind === 'trouble' && wanted && devices.some(({ deviceId }) => deviceId === wanted);
      if (isBack && phase !== 'opened' && phase !== 'left') void this.open(wanted);
    });
  };

  async #listDevices(): Promise<void> {
    const devices = (await navigator.mediaDevices?.enumerateDevices().catch(() => [])) ?? [];
    this.#store.setState({
      devices: devices.filter(({ kind, deviceId }) => kind === 'audioinput' && deviceId !== '').map(({ deviceId, label }) => ({ deviceId, label: label || 'Microphone' })),
    });
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
