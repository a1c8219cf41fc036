import { createStore, type StoreApi } from 'zustand/vanilla';
import { dbToGain } from '@/core/dsp/decibels';
import { decodeSamples } from '@/core/formats/wav/sample-format';
import type { CompiledPlan } from '@/core/hearing/compile';
import type { SourceId } from '@/core/hearing/ids';
import { CHUNK_FRAMES, chunkCount, SAMPLE_RATE } from '@/core/takes/chunks';
import type { TakeData } from '@/core/session/take-data';
import { phonesDevice } from '../devices/phones-device';
import { openAudioDesk, type AudioDesk } from '../desk/audio-desk';
import { pause } from '../pause';

export interface TakePlayerState {
  playing: 'stopped' | 'loading' | 'playing';
  muted: ReadonlySet<string>;
  solo: ReadonlySet<string>;
  /** Level of each track that is not at 0 dB. */
  levels: Readonly<Record<string, number>>;
  trouble: string | null;
}

/** How far ahead of the ear chunks are put in line. */
const AHEAD_SECONDS = 5;
const START_DELAY_SECONDS = 0.08;
const POLL_MS = 250;

/**
 * Plays all tracks of a take in step: every chunk is started at its own sample of one clock and
 * mixed by the engine, where solo and mute are crosspoints like any other.
 */
export class TakePlayer {
  readonly store: StoreApi<TakePlayerState>;
  readonly #take: TakeData;
  #audio: AudioDesk | null = null;
  #opening: Promise<AudioDesk> | null = null;
  #run = 0;
  #startedAt = 0;
  #from = 0;
  #sources = new Set<AudioBufferSourceNode>();

  constructor(take: TakeData) {
    this.#take = take;
    this.store = createStore(() => ({
      playing: 'stopped',
      muted: new Set<string>(),
      solo: new Set<string>(),
      levels: {},
      trouble: null,
    }));
  }

  /** Where playing is now, in samples from the take's beginning. */
  position(): number {
    if (this.store.getState().playing !== 'playing' || !this.#audio) return this.#from;
    const elapsed = this.#audio.context.currentTime - this.#startedAt;
    return Math.min(this.#take.lengthSamples, this.#from + Math.max(0, Math.round(elapsed * SAMPLE_RATE)));
  }

  async play(): Promise<void> {
    const run = ++this.#run;
    this.store.setState({ playing: 'loading', trouble: null });
    if (this.#from >= this.#take.lengthSamples) this.#from = 0;
    try {
      const audio = await (this.#opening ??= this.#open());
      await audio.context.resume();
      await this.#playFrom(audio, run);
    } catch (error) {
      if (run === this.#run) this.store.setState({ playing: 'stopped', trouble: (error as Error).message });
    }
  }

  pause(): void {
    this.#from = this.position();
    this.#halt();
  }

  seek(sample: number): void {
    const wasPlaying = this.store.getState().playing !== 'stopped';
    this.#halt();
    this.#from = Math.max(0, Math.min(this.#take.lengthSamples, Math.round(sample)));
    if (wasPlaying) void this.play();
  }

  toggleMute(track: string): void {
    this.store.setState(({ muted }) => ({ muted: toggled(muted, track) }));
    this.#applyPlan();
  }

  toggleSolo(track: string): void {
    this.store.setState(({ solo }) => ({ solo: toggled(solo, track) }));
    this.#applyPlan();
  }

  setLevel(track: string, db: number): void {
    this.store.setState(({ levels }) => ({ levels: { ...levels, [track]: db } }));
    this.#applyPlan();
  }

  close(): void {
    this.#halt();
    void this.#audio?.close();
    this.#audio = null;
    this.#opening = null;
  }

  async #open(): Promise<AudioDesk> {
    const count = this.#take.tracks.length;
    const audio = await openAudioDesk({
      sources: count,
      listeners: 1,
      ports: { inputs: count, outputs: 1, devices: 0, outlets: 0 },
      clock: await phonesDevice(),
      heard: true,
      onFailure: (trouble) => this.store.setState({ trouble }),
    });
    this.#audio = audio;
    audio.tell({ type: 'places', devices: [], outlets: [], inputs: this.#take.tracks.map((_, place) => place), outputs: [0] });
    this.#applyPlan();
    return audio;
  }

  async #playFrom(audio: AudioDesk, run: number): Promise<void> {
    const { context } = audio;
    const first = Math.floor(this.#from / CHUNK_FRAMES);
    let ready = await this.#loadChunk(first);
    if (run !== this.#run) return;
    this.#startedAt = context.currentTime + START_DELAY_SECONDS;
    this.store.setState({ playing: 'playing' });
    for (let index = first; index < chunkCount(this.#take.lengthSamples); index++) {
      if (index > first) ready = await this.#loadChunk(index);
      if (run !== this.#run) return;
      // What comes late holds up every track alike: nothing is left out and nobody is out of step.
      const late = context.currentTime + START_DELAY_SECONDS - this.#dueAt(index);
      if (late > 0) this.#startedAt += late;
      this.#startChunk(audio, index, ready);
      while (run === this.#run && this.#dueAt(index + 1) - context.currentTime > AHEAD_SECONDS) await pause(POLL_MS);
    }
    while (run === this.#run && this.position() < this.#take.lengthSamples) await pause(POLL_MS);
    if (run === this.#run) this.pause();
  }

  /** When a chunk, or what is left of the first, begins to sound, s. */
  #dueAt(index: number): number {
    return this.#startedAt + Math.max(0, index * CHUNK_FRAMES - this.#from) / SAMPLE_RATE;
  }

  #startChunk(audio: AudioDesk, index: number, buffers: AudioBuffer[]): void {
    const offset = Math.max(0, this.#from - index * CHUNK_FRAMES) / SAMPLE_RATE;
    const when = this.#dueAt(index);
    buffers.forEach((buffer, place) => {
      const source = audio.context.createBufferSource();
      source.buffer = buffer;
      source.connect(audio.node, 0, place);
      source.onended = () => {
        source.disconnect();
        this.#sources.delete(source);
      };
      this.#sources.add(source);
      source.start(when, offset);
    });
  }

  async #loadChunk(index: number): Promise<AudioBuffer[]> {
    return Promise.all(
      this.#take.tracks.map(async ({ id, channels, format }) => {
        const response = await fetch(`/api/takes/${this.#take.id}/tracks/${id}/chunks/${index}`);
        if (!response.ok) throw new Error(`A part of this take could not be loaded (${response.status}). Try again.`);
        const decoded = decodeSamples(format, channels, new Uint8Array(await response.arrayBuffer()));
        const buffer = new AudioBuffer({ length: decoded[0].length, numberOfChannels: channels, sampleRate: SAMPLE_RATE });
        decoded.forEach((samples, channel) => buffer.copyToChannel(samples, channel));
        return buffer;
      }),
    );
  }

  #halt(): void {
    this.#run++;
    for (const source of this.#sources) {
      source.onended = null;
      source.stop();
      source.disconnect();
    }
    this.#sources.clear();
    this.store.setState({ playing: 'stopped' });
  }

  #applyPlan(): void {
    this.#audio?.tell({ type: 'plan', number: 0, plan: this.#compile() });
  }

  /** Mixes of the take would double the voices, and talkback was private: they sound only when soloed. */
  #compile(): CompiledPlan {
    const { muted, solo, levels } = this.store.getState();
    const heard = this.#take.tracks.flatMap(({ id, kind }, place) => {
      const isSource = kind === 'voice' || kind === 'sounds' || kind === 'share' || kind === 'input';
      return (solo.size > 0 ? solo.has(id) : isSource) && !muted.has(id) ? [place] : [];
    });
    const gains = Float32Array.from(heard, (place) => dbToGain(levels[this.#take.tracks[place].id] ?? 0));
    return {
      ducking: [],
      processing: [],
      offsets: [],
      sourceIds: this.#take.tracks.map((_, place): SourceId => `voice:track-${place}`),
      listenerIds: ['program'],
      first: Uint16Array.of(0, heard.length),
      source: Uint16Array.from(heard),
      gainLeft: gains,
      gainRight: gains,
      raw: new Uint8Array(heard.length),
    };
  }
}

function toggled(set: ReadonlySet<string>, entry: string): ReadonlySet<string> {
  const next = new Set(set);
  if (!next.delete(entry)) next.add(entry);
  return next;
}
