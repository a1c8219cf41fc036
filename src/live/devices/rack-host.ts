import type { SoundRing } from '@/core/dsp/sound-ring';
import type { RackClock, RackDevice, RackProgram } from '@/core/practice/rack';
import { FAR_END_VOICES, farEndClipPath } from '@/core/practice/demo-conversation';
import { loadSound } from '../desk/sound-files';
import { RACK_PROCESSOR, type ToRack } from '../worklet/outlet-messages';
import { GOOD_MANNERS, type FarEndManner } from './far-end-manner';
import { inTurn } from '../in-turn';
import { getRunning } from '../running-sound';
import { openContext } from './open-context';

const SEED = 14;

type RackNode = AudioWorkletNode & { readonly context: AudioContext };

/** The made-up devices in a thread of their own, opened by whoever first needs one and closed by the last. */
export class RackHost {
  #node: Promise<RackNode> | null = null;
  #users = 0;
  #manner: FarEndManner = GOOD_MANNERS;
  #voices: Promise<Float32Array[][]> | null = null;

  capture(device: RackDevice, ring: SoundRing): () => void {
    return this.#use({ type: 'capture', device, ring: ring.memory }, { type: 'capture', device, ring: null });
  }

  play(id: string, device: RackDevice, ring: SoundRing): () => void {
    return this.#use({ type: 'play', id, device, ring: ring.memory }, { type: 'play', id, device, ring: null });
  }

  offset(id: string, offsetMs: number): void {
    this.#tell({ type: 'offset', id, offsetMs });
  }

  tone(device: RackDevice, samples: Float32Array): void {
    this.#tell({ type: 'tone', device, samples });
  }

  manner(): FarEndManner {
    return this.#manner;
  }

  setManner(change: Partial<FarEndManner>): void {
    this.#manner = { ...this.#manner, ...change };
    void this.#node?.then((node) => this.#furnish(node)).catch(() => undefined);
  }

  async resume(): Promise<void> {
    const node = await this.#node?.catch(() => null);
    await node?.context.resume();
  }

  #tell(message: ToRack): void {
    void this.#node?.then((one) => one.port.postMessage(message)).catch(() => undefined);
  }

  #use(on: ToRack, off: ToRack): () => void {
    this.#users++;
    const node = (this.#node ??= inTurn(() => this.#openRack()));
    void node.then((one) => one.port.postMessage(on)).catch(() => undefined);
    let done = false;
    return () => {
      if (done) return;
      done = true;
      void node.then((one) => one.port.postMessage(off)).catch(() => undefined);
      if (--this.#users === 0) this.#close();
    };
  }

  async #openRack(): Promise<RackNode> {
    const context = openContext('');
    await context.audioWorklet.addModule(new URL('../generated/rack.worklet.js', import.meta.url));
    const node = new AudioWorkletNode(context, RACK_PROCESSOR, { numberOfInputs: 0, outputChannelCount: [2] }) as RackNode;
    node.connect(new GainNode(context, { gain: 0 })).connect(context.destination);
    await getRunning(context);
    void this.#furnish(node);
    return node;
  }

  /** Puts the people at the far end: one program on cables 1 and 2, and somebody at the made-up microphone. */
  async #furnish(node: RackNode): Promise<void> {
    this.#voices ??= Promise.all(FAR_END_VOICES.map((voice) => Promise.all(voice.lines.map(async (_, line) => (await loadSound(node.context, farEndClipPath(voice.id, line))).getChannelData(0).slice()))));
    const voices = await this.#voices.catch(() => []);
    const { people, sendsBack, loudspeakers, rate, ppm } = this.#manner;
    const programs: RackProgram[] = [
      { hears: 'cable-1', speaksInto: 'cable-2', people: voices.slice(0, people), seed: SEED, sendsBack, loudspeakers },
      { hears: 'phones', speaksInto: 'microphone', people: voices.slice(-1), seed: SEED + 1, sendsBack: false, loudspeakers: false },
    ];
    const clock: RackClock = { rate, ppm };
    for (const message of [{ type: 'programs', programs }, { type: 'clock', device: 'cable-2', clock }] satisfies ToRack[]) node.port.postMessage(message);
  }

  #close(): void {
    const opening = this.#node;
    this.#node = null;
    void opening?.then(({ context }) => context.close()).catch(() => undefined);
  }
}
