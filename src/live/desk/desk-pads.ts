import { dbToGain } from '@/core/dsp/decibels';
import type { SoundClip } from '@/core/engine/sound-player';
import type { DeskPad } from '@/core/session/desk-data';
import { asBoard, type BoardPad } from '@/core/sounds/board';
import type { LibrarySound } from '@/core/sounds/library-sound';
import { applyEdit } from '@/core/sounds/sound-edit';
import { sendJson } from '../api';
import { CUE_POSITION, MOST_SOUNDS } from '../worklet/status-board';
import type { AudioDesk } from './audio-desk';
import type { Own, PadsSlice } from './desk-state';
import { loadChannels } from './sound-files';
import type { Conditions } from './conditions';

export interface DeskPadsOptions {
  episode: string;
  store: Own<PadsSlice>;
  conditions: Conditions;
}

const RATE = 48000;
const CUE_GRACE_MS = 250;
/** Sounds that are fetched and decoded at once, and how long a call waits for them. */
const LOADED_AT_ONCE = 2;
const PATIENCE_MS = 2500;

/** The pads of a desk: the board, and the sounds in the audio thread. */
export class DeskPads {
  readonly #options: DeskPadsOptions;
  #audio: AudioDesk | null = null;
  /** Sounds in the order the audio thread got them: their places on the status board. */
  #loaded: string[] = [];
  /** Whole sounds as they came from the library. */
  readonly #sounds = new Map<string, Float32Array[]>();
  /** Presses of this moment, told the audio thread at once, so that they start on the same sample. */
  #pressed: string[] = [];
  #cuedAt = 0;
  #arranging: Promise<void> = Promise.resolve();

  constructor(options: DeskPadsOptions) {
    this.#options = options;
  }

  /**
   * Gives the audio thread every sound of the board, in its order. Resolves when all are there, or
   * after a while: a call does not wait for a large board.
   */
  async open(audio: AudioDesk): Promise<void> {
    this.#audio = audio;
    this.#loaded = [];
    const waiting = [...this.#options.store.getState().pads];
    const load = async () => {
      for (let pad = waiting.shift(); pad; pad = waiting.shift()) await this.#load(audio, pad);
    };
    const all = Promise.all(Array.from({ length: LOADED_AT_ONCE }, load));
    await Promise.race([all, new Promise((resolve) => setTimeout(resolve, PATIENCE_MS))]);
  }

  async #load(audio: AudioDesk, pad: DeskPad): Promise<void> {
    try {
      await this.#fetch(audio, pad.sound);
    } catch (error) {
      return this.#options.conditions.begin(`pad-${pad.sound}`, `${pad.name} cannot be played. ${(error as Error).message}`);
    }
    // Whoever pressed it too soon need not be told any more.
    this.#options.conditions.end(`pad-${pad.sound}`);
    const now = this.#find(pad.sound);
    if (audio === this.#audio && now) this.#give(audio, now);
  }

  /** Whether a sound can be played now. */
  isLoaded(sound: string): boolean {
    return this.#loaded.includes(sound);
  }

  close(): void {
    this.#audio = null;
    this.#loaded = [];
    this.#options.store.setState({ cued: null, listenFirst: false });
  }

  /** Plays a pad; into the phones alone while the host listens first. */
  press(sound: string): void {
    if (this.#options.store.getState().listenFirst) return this.cue(sound);
    if (!this.#audio) return;
    if (!this.isLoaded(sound)) return this.#options.conditions.begin(`pad-${sound}`, `${this.#find(sound)?.name ?? 'This sound'} is still being loaded.`);
    if (this.#pressed.length === 0) queueMicrotask(() => this.#tellPressed());
    if (!this.#pressed.includes(sound)) this.#pressed.push(sound);
  }

  /** Lets a pad go: one that plays while it is held stops. */
  release(sound: string): void {
    if (this.#find(sound)?.mode === 'hold') this.stop(sound);
  }

  /** Presses all pads that have a key, on the same sample. */
  pressKey(key: string): void {
    for (const pad of this.#withKey(key)) this.press(pad.sound);
  }

  releaseKey(key: string): void {
    for (const pad of this.#withKey(key)) this.release(pad.sound);
  }

  stop(sound: string): void {
    this.#audio?.tell({ type: 'stop-sound', id: sound });
  }

  /** Fades one sound out in the show's time. */
  fade(sound: string): void {
    this.#audio?.tell({ type: 'stop-sound', id: sound, fadeSamples: this.#fadeSamples() });
  }

  stopAll(): void {
    this.#audio?.tell({ type: 'stop-all-sounds' });
    this.#options.store.setState({ cued: null });
  }

  fadeAll(): void {
    this.#audio?.tell({ type: 'stop-all-sounds', fadeSamples: this.#fadeSamples() });
  }

  /** Takes the theme that plays (the beds, where none does) under the talk, and out; again: out now. */
  underTalk(): void {
    const { pads, soundSettings } = this.#options.store.getState();
    const plays = (kind: DeskPad['kind']) => pads.filter((pad) => pad.kind === kind && this.positionOf(pad.sound) >= 0);
    const themes = plays('theme');
    const ids = (themes.length > 0 ? themes : plays('bed')).map(({ sound }) => sound);
    if (ids.length === 0) return this.#options.conditions.news('under-talk', 'No theme and no bed plays: there is nothing to take under the talk.');
    const { underDb, underSeconds, holdSeconds, outSeconds } = soundSettings.underTalk;
    const move = { underDb, underSamples: underSeconds * RATE, holdSamples: holdSeconds * RATE, outSamples: outSeconds * RATE };
    this.#audio?.tell({ type: 'take-under', ids, move });
  }

  /** Plays a sound into the phones alone, from its beginning; null stops it. */
  cue(sound: string | null): void {
    if (!this.#audio || (sound !== null && !this.isLoaded(sound))) return;
    this.#audio.tell({ type: 'cue-sound', id: sound, gain: sound === null ? 0 : this.#gainOf(sound) });
    this.#options.store.setState({ cued: sound });
    this.#cuedAt = performance.now();
  }

  /** Forgets what was listened to first once it has played to its end. */
  noticeCueEnd(): void {
    const position = this.#audio?.board.clocks[CUE_POSITION] ?? -1;
    // The audio thread needs a moment before a sound that was asked for has a position.
    if (position < 0 && performance.now() - this.#cuedAt > CUE_GRACE_MS) this.#options.store.setState({ cued: null });
  }

  /** While it is so, a press is heard by the host alone. */
  setListenFirst(listenFirst: boolean): void {
    this.#options.store.setState({ listenFirst });
  }

  /** Position of a sound in samples, or −1 when it is not playing. */
  positionOf(sound: string): number {
    const place = this.#loaded.indexOf(sound);
    return place < 0 ? -1 : (this.#audio?.board.soundPosition[place] ?? -1);
  }

  /** The sound at a place of the status board; null for none. */
  soundAt(place: number): string | null {
    return this.#loaded[place] ?? null;
  }

  /** Gain a sound is played with, dB: the library's and its pad's. */
  gainDbOf(sound: string): number {
    return (this.#options.store.getState().padLevels[sound] ?? 0) + (this.#find(sound)?.gainDb ?? 0);
  }

  setLevel(sound: string, levelDb: number): void {
    this.#options.store.setState(({ padLevels }) => ({ padLevels: { ...padLevels, [sound]: levelDb } }));
    this.#audio?.tell({ type: 'sound-gain', id: sound, gain: this.#gainOf(sound) });
  }

  /** Keeps a pad's level on the server. Called when the hand leaves the control. */
  async keepLevel(sound: string): Promise<void> {
    const { store, episode, conditions } = this.#options;
    const levelDb = store.getState().padLevels[sound];
    await sendJson('PUT', `/api/episodes/${episode}/pads/${sound}`, { levelDb }).then(
      () => conditions.end('pad-levels'),
      (error: Error) => conditions.begin('pad-levels', `The pad’s level was not kept. ${error.message}`),
    );
  }

  /**
   * Arranges the board anew and keeps it. A sound that plays goes on to its end; what is new can be
   * played as soon as it is here. One after another: each change begins from what the last one made.
   * @throws {ServerError}
   */
  arrange(change: (pads: readonly DeskPad[]) => readonly BoardPad[]): Promise<void> {
    const arranged = this.#arranging.then(() => this.#arrange(change));
    this.#arranging = arranged.catch(() => undefined);
    return arranged;
  }

  async #arrange(change: (pads: readonly DeskPad[]) => readonly BoardPad[]): Promise<void> {
    const { store, episode } = this.#options;
    const { padLevels, pads: before } = store.getState();
    const pads = asBoard(change(before)).map((pad) => ({ ...pad, levelDb: padLevels[pad.sound] ?? pad.levelDb }));
    await this.#adopt(await sendJson<DeskPad[]>('PUT', `/api/episodes/${episode}/pads`, { pads }));
  }

  /** A sound of the library was changed: its pad follows. */
  async soundChanged({ id, name, kind, gainDb, edit }: LibrarySound): Promise<void> {
    const { pads } = this.#options.store.getState();
    await this.#adopt(pads.map((pad) => (pad.sound === id ? { ...pad, name, kind, gainDb, edit } : pad)));
  }

  async #adopt(pads: DeskPad[]): Promise<void> {
    const before = new Map(this.#options.store.getState().pads.map((pad) => [pad.sound, pad]));
    this.#options.store.setState({ pads, padLevels: Object.fromEntries(pads.map(({ sound, levelDb }) => [sound, levelDb])) });
    const audio = this.#audio;
    if (!audio) return;
    for (const pad of pads) {
      if (!this.isLoaded(pad.sound)) {
        await this.#load(audio, pad);
        continue;
      }
      if (audio !== this.#audio) return;
      const old = before.get(pad.sound);
      const same = old?.player === pad.player && old?.mode === pad.mode && JSON.stringify(old?.edit) === JSON.stringify(pad.edit);
      if (!same) this.#give(audio, pad);
      audio.tell({ type: 'sound-gain', id: pad.sound, gain: this.#gainOf(pad.sound) });
    }
  }

  #tellPressed(): void {
    const { pads, soundSettings } = this.#options.store.getState();
    const presses = this.#pressed.flatMap((sound) => {
      const pad = this.#find(sound);
      if (!pad) return [];
      const others = pad.group === null ? [] : pads.filter(({ group, sound: other }) => group === pad.group && other !== sound).map(({ sound: other }) => other);
      return [{ id: sound, gain: this.#gainOf(sound), again: pad.again, others, crossfadeSamples: soundSettings.crossfadeSeconds * RATE }];
    });
    this.#pressed = [];
    this.#audio?.tell({ type: 'press-sounds', presses });
  }

  #find(sound: string): DeskPad | undefined {
    return this.#options.store.getState().pads.find((pad) => pad.sound === sound);
  }

  #withKey(key: string): DeskPad[] {
    return this.#options.store.getState().pads.filter((pad) => pad.key === key);
  }

  #gainOf(sound: string): number {
    return dbToGain(this.gainDbOf(sound));
  }

  #fadeSamples(): number {
    return this.#options.store.getState().soundSettings.fadeSeconds * RATE;
  }

  async #fetch(audio: AudioDesk, sound: string): Promise<void> {
    if (!this.#sounds.has(sound)) this.#sounds.set(sound, await loadChannels(audio.context, `/api/sounds/${sound}/audio`));
  }

  /** Gives the audio thread a sound as its pad plays it. */
  #give(audio: AudioDesk, pad: DeskPad): void {
    const clip: SoundClip = applyEdit(this.#sounds.get(pad.sound)!, pad.edit, pad.mode === 'loop');
    let place = this.#loaded.indexOf(pad.sound);
    if (place < 0) place = this.#loaded.push(pad.sound) - 1;
    const { sound: id, player } = pad;
    audio.tell({ type: 'add-sound', id, player, clip, place: place < MOST_SOUNDS ? place : -1 }, [clip.left.buffer, clip.right.buffer]);
  }
}
