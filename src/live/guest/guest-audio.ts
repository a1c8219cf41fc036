import { getRunning } from '../running-sound';
import { joined, type Packet } from './packets';
import { findSweep, provingSound } from '@/core/measure/find-sweep';
import { makeSweep, type SweepHeard } from '@/core/measure/sweep';

/** How long the room is listened to after the last sweep. */
const LISTEN_SECONDS = 0.9;
/** The context plays this much later than it was told, at most. */
const START_SECONDS = 0.15;

/** The guest's side of the sound: a level to look at, and the headphones test. */
export class GuestAudio {
  readonly context: AudioContext;
  #loaded: Promise<void> | null = null;
  #source: MediaStreamAudioSourceNode | null = null;
  readonly #analyser: AnalyserNode;
  readonly #window: Float32Array<ArrayBuffer>;

  constructor() {
    this.context = new AudioContext({ latencyHint: 'interactive' });
    this.#analyser = new AnalyserNode(this.context, { fftSize: 2048 });
    this.#window = new Float32Array(this.#analyser.fftSize);
  }

  /** Looks at this microphone from now on. */
  follow(stream: MediaStream | null): void {
    this.#source?.disconnect();
    this.#source = stream && this.context.createMediaStreamSource(stream);
    this.#source?.connect(this.#analyser);
    void getRunning(this.context);
  }

  /** Largest sample and mean square of the newest 43 ms. */
  level(): { peak: number; meanSquare: number } {
    this.#analyser.getFloatTimeDomainData(this.#window);
    let peak = 0;
    let sum = 0;
    for (const x of this.#window) {
      peak = Math.max(peak, Math.abs(x));
      sum += x * x;
    }
    return { peak, meanSquare: sum / this.#window.length };
  }

  /** Whether anything can be measured and played here: the browser may have stopped the sound of this page. */
  isRunning(): boolean {
    return this.context.state === 'running';
  }

  /** Lets the sound go on, after a press of a button. */
  letOn(): Promise<boolean> {
    return getRunning(this.context);
  }

  /** Plays a short sweep, twice, for somebody who talks meanwhile can sound like one, and says whether the microphone heard it. @throws {Error} without a microphone, or while the sound is stopped */
  async testHeadphones(): Promise<SweepHeard> {
    const source = this.#source;
    if (!source) throw new Error('There is no microphone to test with.');
    if (!(await getRunning(this.context))) throw new Error('The sound of this page is stopped.');
    const { sampleRate } = this.context;
    this.#loaded ??= this.context.audioWorklet.addModule(new URL('../generated/capture.worklet.js', import.meta.url));
    await this.#loaded;
    const capture = new AudioWorkletNode(this.context, 'capture-processor', { numberOfOutputs: 0, channelCount: 1, channelCountMode: 'explicit' });
    const packets: Packet[] = [];
    capture.port.onmessage = ({ data }: MessageEvent<Packet>) => packets.push(data);
    source.connect(capture);
    const sweep = makeSweep(sampleRate);
    const sound = provingSound(sweep).samples;
    const buffer = new AudioBuffer({ length: sound.length, sampleRate });
    buffer.copyToChannel(sound as Float32Array<ArrayBuffer>, 0);
    const player = new AudioBufferSourceNode(this.context, { buffer });
    player.connect(this.context.destination);
    const at = this.context.currentTime + START_SECONDS;
    player.start(at);
    await new Promise((resolve) => setTimeout(resolve, (START_SECONDS + sound.length / sampleRate + LISTEN_SECONDS) * 1000));
    source.disconnect(capture);
    capture.port.close();
    const found = findSweep(joined(packets, Math.round(at * sampleRate)), sweep);
    return found ? { heard: true, levelDb: found.gainDb, delayMs: (1000 * found.at) / sampleRate } : { heard: false, levelDb: null, delayMs: null };
  }

  async close(): Promise<void> {
    this.follow(null);
    if (this.context.state !== 'closed') await this.context.close();
  }
}
