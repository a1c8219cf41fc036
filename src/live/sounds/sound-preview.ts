import { phonesDevice } from '../devices/phones-device';
import { applyEdit, type SoundEdit } from '@/core/sounds/sound-edit';

const RATE = 48000;

/** Plays a sound as an edit has it, on this computer only: to hear what the edit does. */
export class SoundPreview {
  readonly #context = new AudioContext({ sampleRate: RATE });
  #playing: AudioBufferSourceNode | null = null;
  #startedAt = 0;
  #from = 0;
  #loop: { from: number; to: number } | null = null;

  constructor() {
    // Where the host's phones are, once that is known.
    const context = this.#context as AudioContext & { setSinkId(id: string): Promise<void> };
    void phonesDevice().then((id) => (id === '' ? undefined : context.setSinkId(id).catch(() => undefined)));
  }

  /** The sound's channels at 48 kHz. @throws {Error} with a sentence */
  async load(url: string): Promise<Float32Array[]> {
    const response = await fetch(url);
    if (!response.ok) throw new Error(`The sound could not be loaded from the server (${response.status}).`);
    const buffer = await this.#context.decodeAudioData(await response.arrayBuffer());
    return Array.from({ length: buffer.numberOfChannels }, (_, k) => buffer.getChannelData(k).slice());
  }

  /** @param fromSample where in the whole sound to begin, within what the edit plays */
  async play(channels: readonly Float32Array[], edit: SoundEdit, gain: number, loops: boolean, fromSample: number): Promise<void> {
    this.stop();
    await this.#context.resume();
    const clip = applyEdit(channels, edit, loops);
    const buffer = this.#context.createBuffer(2, clip.left.length, RATE);
    buffer.copyToChannel(clip.left as Float32Array<ArrayBuffer>, 0);
    buffer.copyToChannel(clip.right as Float32Array<ArrayBuffer>, 1);
    const level = new GainNode(this.#context, { gain });
    const source = new AudioBufferSourceNode(this.#context, { buffer, loop: loops, loopStart: clip.loopFrom! / RATE, loopEnd: clip.loopTo! / RATE });
    const offset = Math.max(0, fromSample - edit.inSample);
    if (clip.fadeInSamples && offset === 0) {
      level.gain.setValueAtTime(0, this.#context.currentTime);
      level.gain.linearRampToValueAtTime(gain, this.#context.currentTime + clip.fadeInSamples / RATE);
    }
    source.connect(level).connect(this.#context.destination);
    source.onended = () => {
      if (this.#playing === source) this.#playing = null;
    };
    source.start(0, offset / RATE);
    this.#playing = source;
    this.#startedAt = this.#context.currentTime;
    this.#from = edit.inSample + offset;
    this.#loop = loops ? { from: edit.inSample + clip.loopFrom!, to: edit.inSample + clip.loopTo! } : null;
  }

  stop(): void {
    this.#playing?.stop();
    this.#playing = null;
  }

  /** Where in the whole sound it plays, samples; −1 while it does not. */
  position(): number {
    if (!this.#playing) return -1;
    const at = this.#from + (this.#context.currentTime - this.#startedAt) * RATE;
    if (!this.#loop || at < this.#loop.to) return at;
    return this.#loop.from + ((at - this.#loop.to) % (this.#loop.to - this.#loop.from));
  }

  close(): void {
    this.stop();
    void this.#context.close();
  }
}
