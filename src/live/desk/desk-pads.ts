import type { StoreApi } from 'zustand/vanilla';
import { dbToGain } from '@/core/dsp/decibels';
import type { DeskPad } from '@/core/session/desk-data';
import { sendJson } from '../api';
import type { AudioDesk } from './audio-desk';
import type { DeskState } from './desk-state';
import { loadSound } from './sound-files';

export interface DeskPadsOptions {
  episode: string;
  store: StoreApi<DeskState>;
  trouble(sentence: string): void;
}

/** The pads of a desk: the board, and the sounds in the audio thread. */
export class DeskPads {
  readonly #options: DeskPadsOptions;
  #audio: AudioDesk | null = null;
  /** Sounds in the order the audio thread got them: their places on the status board. */
  #loaded: string[] = [];

  constructor(options: DeskPadsOptions) {
    this.#options = options;
  }

  /** Gives the audio thread every sound of the board. @throws {Error} when one cannot be loaded */
  async open(audio: AudioDesk): Promise<void> {
    this.#audio = audio;
    this.#loaded = [];
    const { pads } = this.#options.store.getState();
    const buffers = await Promise.all(pads.map((pad) => this.#fetch(audio, pad)));
    pads.forEach((pad, place) => this.#give(audio, pad, buffers[place]));
  }

  close(): void {
    this.#audio = null;
    this.#loaded = [];
  }

  press(sound: string): void {
    this.#audio?.tell({ type: 'start-sound', id: sound, gain: this.#gainOf(sound) });
  }

  stop(sound: string): void {
    this.#audio?.tell({ type: 'stop-sound', id: sound });
  }

  stopAll(): void {
    this.#audio?.tell({ type: 'stop-all-sounds' });
  }

  /** Position of a sound in samples, or −1 when it is not playing. */
  positionOf(sound: string): number {
    const place = this.#loaded.indexOf(sound);
    return place < 0 ? -1 : (this.#audio?.board.soundPosition[place] ?? -1);
  }

  setLevel(sound: string, levelDb: number): void {
    this.#options.store.setState(({ padLevels }) => ({ padLevels: { ...padLevels, [sound]: levelDb } }));
    this.#audio?.tell({ type: 'sound-gain', id: sound, gain: this.#gainOf(sound) });
  }

  /** Keeps a pad's level on the server. Called when the hand leaves the control. */
  async keepLevel(sound: string): Promise<void> {
    const { store, episode, trouble } = this.#options;
    const levelDb = store.getState().padLevels[sound];
    await sendJson('PUT', `/api/episodes/${episode}/pads/${sound}`, { levelDb }).catch((error: Error) =>
      trouble(`The pad’s level was not kept. ${error.message}`),
    );
  }

  /**
   * Arranges the board anew and keeps it. A sound that plays goes on to its end; what is new can be
   * played as soon as it is here. @throws {ServerError}
   */
  async arrange(pads: readonly DeskPad[]): Promise<void> {
    const { store, episode } = this.#options;
    const { padLevels } = store.getState();
    const kept = await sendJson<DeskPad[]>('PUT', `/api/episodes/${episode}/pads`, {
      pads: pads.map(({ sound, player, key, loops, levelDb }) => ({ sound, player, key, loops, levelDb: padLevels[sound] ?? levelDb })),
    });
    store.setState({ pads: kept, padLevels: Object.fromEntries(kept.map(({ sound, levelDb }) => [sound, levelDb])) });
    const audio = this.#audio;
    if (!audio) return;
    for (const pad of kept) {
      const buffer = await this.#fetch(audio, pad);
      if (audio === this.#audio) this.#give(audio, pad, buffer);
    }
  }

  #gainOf(sound: string): number {
    const { pads, padLevels } = this.#options.store.getState();
    return dbToGain((padLevels[sound] ?? 0) + (pads.find((pad) => pad.sound === sound)?.gainDb ?? 0));
  }

  #fetch(audio: AudioDesk, { sound }: DeskPad): Promise<AudioBuffer> {
    return loadSound(audio.context, `/api/sounds/${sound}/audio`);
  }

  #give(audio: AudioDesk, { sound, player, loops }: DeskPad, buffer: AudioBuffer): void {
    const left = buffer.getChannelData(0).slice();
    const right = buffer.numberOfChannels > 1 ? buffer.getChannelData(1).slice() : left.slice();
    if (!this.#loaded.includes(sound)) this.#loaded.push(sound);
    audio.tell({ type: 'add-sound', id: sound, player, left, right, loop: loops }, [left.buffer, right.buffer]);
  }
}
