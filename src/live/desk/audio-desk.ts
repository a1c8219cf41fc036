import {
  MIX_PROCESSOR,
  type FromMixWorklet,
  type MixWorkletOptions,
  type ToMixWorklet,
} from '../worklet/messages';
import type { Probe } from '@/core/engine/probes';
import type { HeardBy } from '@/core/session/play-back';
import type { Tap } from '@/core/session/captures';
import type { PortKind } from '../patch/port-table';
import { keepRunning } from '../devices/keep-running';
import { openContext } from '../devices/open-context';
import { statusBoard, statusBoardBytes, type StatusBoard } from '../worklet/status-board';

export interface AudioDeskOptions {
  sources: number;
  listeners: number;
  ports: Record<PortKind, number>;
  /** The output by whose clock it runs; an empty id is the one the system offers. */
  clock: string;
  /** Whether output 0 is heard there. A desk’s mixes leave by outlets, and it only takes the time from that device. */
  heard: boolean;
  onFailure(message: string): void;
}

/** The audio thread with the engine in it, and the page's end of everything shared with it. */
export interface AudioDesk {
  readonly context: AudioContext;
  readonly node: AudioWorkletNode;
  /** How many ports the thread has. */
  readonly ports: Record<PortKind, number>;
  readonly board: StatusBoard;
  tell(message: ToMixWorklet, transfer?: Transferable[]): void;
  /** Sends known sounds for so many samples, outside the plan; says at which sample of the session clock they begin. */
  probe(probes: Probe[], samples: number): Promise<number>;
  /** Records what a tap brings and gives it to somebody afterwards; says when that began, by the session clock. */
  playBack(tap: Tap, heardBy: HeardBy): Promise<number>;
  close(): Promise<void>;
}

export const SAMPLE_RATE = 48000;

/** @throws {Error} when the browser cannot run the desk, with a sentence for the host */
export async function openAudioDesk(options: AudioDeskOptions): Promise<AudioDesk> {
  if (!globalThis.crossOriginIsolated) {
    throw new Error('This browser does not share memory between page and audio thread; the desk needs a current Chromium, Firefox or Safari.');
  }
  const { sources, listeners, ports, clock, heard } = options;
  // When that device is pulled out the browser goes on at the system's own: silently, unless it was heard at all.
  const context = openContext(clock);
  try {
    await context.audioWorklet.addModule(new URL('../generated/mix.worklet.js', import.meta.url));
  } catch (cause) {
    await context.close();
    throw new Error('The audio engine could not be loaded. Reload the page.', { cause });
  }
  const status = new SharedArrayBuffer(statusBoardBytes(sources, listeners));
  const processorOptions: MixWorkletOptions = { sources, listeners, status };
  const node = new AudioWorkletNode(context, MIX_PROCESSOR, {
    numberOfInputs: ports.inputs,
    numberOfOutputs: ports.outputs,
    outputChannelCount: new Array<number>(ports.outputs).fill(2),
    channelCount: 2,
    channelCountMode: 'max',
    channelInterpretation: 'discrete',
    processorOptions,
  });
  const probing: ((at: number) => void)[] = [];
  node.port.onmessage = ({ data }: MessageEvent<FromMixWorklet>) => (data.type === 'failed' ? options.onFailure(data.message) : probing[data.number](data.at));
  node.onprocessorerror = () => options.onFailure('The audio engine stopped. Reload the page; what was recorded is safe.');
  // A context without a device has a clock that loses a thousandth and more, so there is one, and nothing is played at it.
  node.connect(new GainNode(context, { gain: heard ? 1 : 0 }), 0).connect(context.destination);
  const stopKeeping = keepRunning(context);
  return {
    context,
    node,
    ports,
    board: statusBoard(status, sources, listeners),
    tell: (message, transfer = []) => node.port.postMessage(message, transfer),
    probe: (probes, samples) =>
      new Promise((begun) => {
        const number = probing.push(begun) - 1;
        node.port.postMessage({ type: 'probe', number, probes, samples } satisfies ToMixWorklet);
      }),
    playBack: (tap, heardBy) =>
      new Promise((begun) => {
        const number = probing.push(begun) - 1;
        node.port.postMessage({ type: 'play-back', number, tap, heardBy } satisfies ToMixWorklet);
      }),
    async close() {
      stopKeeping();
      node.disconnect();
      if (context.state !== 'closed') await context.close();
    },
  };
}
