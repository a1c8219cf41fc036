import { MOST_LISTENERS, MOST_SOURCES } from '@/core/limits';
import { sendJson } from '../api';
import type { DeskAir } from '../air/desk-air';
import type { DeskLineCheck } from '../check/desk-line-check';
import type { TestCalls } from '../check/test-calls';
import type { DeskDevices } from '../devices/desk-devices';
import { phonesDevice } from '../devices/phones-device';
import type { DeskLines } from '../lines/desk-lines';
import { DESK_PORTS } from '../patch/desk-ports';
import { Patchbay } from '../patch/patchbay';
import type { DeskShare } from '../share/desk-share';
import { getRunning } from '../running-sound';
import { openAudioDesk, type AudioDesk } from './audio-desk';
import type { DeskPads } from './desk-pads';
import type { DeskPlan } from './desk-plan';
import type { DeskRecording } from './desk-recording';
import type { CallSlice, Own } from './desk-state';
import { createHealthReader, type EngineHealth } from './engine-health';
import type { HandsOnAir } from './hands-on-air';
import type { HostInput } from './host-input';
import { furnishRooms } from './practice-rooms';
import { loadPracticeCall } from './sound-files';
import type { SoundStops } from './sound-stops';
import type { Conditions } from './conditions';

/** A browser that does not let sound out before a press says nothing: it is waited for so long. */
const RESUME_WITHIN_MS = 700;
/** After a press it does let it out; devices may take their time to open. */
const DEVICES_WITHIN_MS = 15_000;

/** What a call opens when it begins and lets go when it ends. */
export interface CallParts {
  plan: DeskPlan;
  hands: HandsOnAir;
  devices: DeskDevices;
  input: HostInput;
  pads: DeskPads;
  lines: DeskLines;
  recording: DeskRecording;
  share: DeskShare;
  check: DeskLineCheck;
  testCalls: TestCalls;
  air: DeskAir;
  stops: SoundStops;
}

export interface DeskCallOptions {
  episode: string;
  store: Own<CallSlice>;
  /** The desk's other parts, once all are there. */
  parts(): CallParts;
  conditions: Conditions;
}

/** The call: owns the audio thread and what is plugged into it, opens it, and ends it in the right order. */
export class DeskCall {
  readonly #options: DeskCallOptions;
  #audio: AudioDesk | null = null;
  #patchbay: Patchbay | null = null;
  #health: (() => EngineHealth) | null = null;
  /** Which call this is: one that was ended while it began, or that another window took over, must not begin after all. */
  #number = 0;
  /** What the server does not know yet: whether the call runs. */
  #untold: boolean | null = null;
  #told: Promise<void> = Promise.resolve();

  constructor(options: DeskCallOptions) {
    this.#options = options;
  }

  /** The audio thread; null while no call runs. */
  get audio(): AudioDesk | null {
    return this.#audio;
  }

  get patchbay(): Patchbay | null {
    return this.#patchbay;
  }

  /** How the audio thread keeps up; null while no call runs. */
  health(): EngineHealth | null {
    return this.#health?.() ?? null;
  }

  /** Opens the audio thread and lets the practice callers in. */
  async start(): Promise<void> {
    const { store, conditions } = this.#options;
    const { call, place } = store.getState();
    if (place !== 'desk') return;
    // It begins once the sound runs.
    if (call === 'blocked') return this.#audio?.context.resume();
    if (call !== 'off') return;
    conditions.end('call');
    store.setState({ call: 'starting' });
    await this.#orEnd(async () => {
      const audio = await this.#open();
      if (!audio) return;
      const within = navigator.userActivation?.hasBeenActive ? DEVICES_WITHIN_MS : RESUME_WITHIN_MS;
      if (await getRunning(audio.context, within)) await this.#begin(audio);
      else this.#beginLater(audio);
    });
  }

  /** Ends it for everybody. */
  async end(): Promise<void> {
    const { air, plan } = this.#options.parts();
    void air.callEnds();
    // First: whoever closes the window now, while the last of it ends, must not find the call running again.
    const noted = this.#note(false);
    const audio = await this.#letGo();
    plan.letGuestsWait();
    await Promise.all([audio?.close(), noted]);
  }

  /** Lets go of everything here; the call itself may go on at another window. */
  async close(): Promise<void> {
    // Whether it runs is for that window to tell.
    this.#untold = null;
    await (await this.#letGo())?.close();
  }

  /** The server may have been away as the call began or ended. */
  tellAgain(): void {
    if (this.#untold !== null) void this.#note(this.#untold);
  }

  /** What is left to close is the audio thread. */
  async #letGo(): Promise<AudioDesk | null> {
    const { check, testCalls, recording, lines, share, input, devices, pads, hands, stops } = this.#options.parts();
    this.#number++;
    check.stop();
    testCalls.stop();
    // Whether the server takes the rest of it now or in an hour, nobody stays in a call that has ended.
    await recording.stop();
    recording.letGo();
    lines.hangUp();
    share.stop();
    input.close();
    devices.end();
    const audio = this.#audio;
    pads.close();
    this.#audio = this.#patchbay = this.#health = null;
    this.#options.store.setState({ call: 'off' });
    stops.rest();
    hands.rest();
    return audio;
  }

  /** Lets the sound go on that the browser has stopped. */
  async letSoundOn(): Promise<void> {
    await this.#audio?.context.resume();
    await this.#options.parts().devices.resume();
  }

  /** Null where the call was over before it was open. */
  async #open(): Promise<AudioDesk | null> {
    const { plan, pads, stops } = this.#options.parts();
    const number = this.#number;
    const audio = await openAudioDesk({
      sources: MOST_SOURCES,
      listeners: MOST_LISTENERS,
      ports: DESK_PORTS,
      clock: await phonesDevice(),
      heard: false,
      onFailure: (words) => this.#options.conditions.begin('call', words),
    });
    if (number !== this.#number) {
      await audio.close();
      return null;
    }
    this.#audio = audio;
    this.#patchbay = new Patchbay(audio, () => plan.compiled());
    audio.context.addEventListener('statechange', () => audio === this.#audio && stops.look(audio.context));
    this.#health = createHealthReader(audio);
    plan.enforce();
    await pads.open(audio);
    return number === this.#number ? audio : null;
  }

  /** Begins once the browser lets the sound out: somebody pressed something, or a slow device is open at last. */
  #beginLater(audio: AudioDesk): void {
    const { store, parts } = this.#options;
    store.setState({ call: 'blocked' });
    const look = (): void => {
      if (audio !== this.#audio || audio.context.state !== 'running') return;
      audio.context.removeEventListener('statechange', look);
      store.setState({ call: 'starting' });
      void this.#orEnd(async () => {
        await this.#begin(audio);
        await parts().devices.resume();
      });
    };
    audio.context.addEventListener('statechange', look);
  }

  /** A call that cannot begin is no call. */
  async #orEnd(work: () => Promise<void>): Promise<void> {
    const number = this.#number;
    try {
      await work();
    } catch (error) {
      // What was closed under its hands is no fault.
      if (number !== this.#number) return;
      this.#options.conditions.begin('call', (error as Error).message);
      await this.end();
    }
  }

  async #begin(audio: AudioDesk): Promise<void> {
    const { store } = this.#options;
    const [options] = await Promise.all([loadPracticeCall(audio.context, store.getState().seats), this.#openDevices(audio)]);
    // Whoever was asked for a microphone may take long to answer.
    if (audio !== this.#audio) return;
    audio.tell({ type: 'start-practice', options });
    furnishRooms(audio, store.getState());
    store.setState({ call: 'running' });
    this.#options.parts().lines.connect();
    await this.#note(true);
  }

  async #openDevices(audio: AudioDesk): Promise<void> {
    const { devices, input } = this.#options.parts();
    await devices.begin({ patchbay: this.#patchbay!, context: audio.context, board: audio.board });
    if (audio === this.#audio) await input.open();
  }

  /** One after another: the last that is told must be the last that is known. */
  #note(running: boolean): Promise<void> {
    const { episode, conditions } = this.#options;
    this.#untold = running;
    const tell = async (): Promise<void> => {
      if (this.#untold !== running) return;
      try {
        await sendJson('PUT', `/api/episodes/${episode}/call`, { running }, { keepalive: true });
        if (this.#untold === running) this.#untold = null;
        conditions.end('call-told');
      } catch (error) {
        conditions.begin('call-told', `The server was not told about the call. ${(error as Error).message}`);
      }
    };
    return (this.#told = this.#told.then(tell));
  }
}
