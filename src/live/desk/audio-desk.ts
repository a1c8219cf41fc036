import {
  MIX_PROCESSOR,
  type FromMixWorklet,
  type MixWorkletOptions,
  type ToMixWorklet,
} from '../worklet/messages';
import { statusBoard, statusBoardBytes, type StatusBoard } from '../worklet/status-board';

export interface AudioDeskOptions {
  sources: number;
  listeners: number;
  /** Stereo inputs and outputs of the node. Output 0 is heard here. */
  inputs: number;
  outputs: number;
  onFailure(message: string): void;
}

/** Input and output 0 of the node are the host's microphone and phones; line k has k + 1. */
export const lineConnector = (place: number): number => place + 1;

/** The audio thread with the engine in it, and the page's end of everything shared with it. */
export interface AudioDesk {
  readonly context: AudioContext;
  readonly node: AudioWorkletNode;
  readonly board: StatusBoard;
  tell(message: ToMixWorklet, transfer?: Transferable[]): void;
  close(): Promise<void>;
}

export const SAMPLE_RATE = 48000;

/** @throws {Error} when the browser cannot run the desk, with a sentence for the host */
export async function openAudioDesk(options: AudioDeskOptions): Promise<AudioDesk> {
  if (!globalThis.crossOriginIsolated) {
    throw new Error('This browser does not share memory between page and audio thread; the desk needs a current Chromium, Firefox or Safari.');
  }
  const context = new AudioContext({ sampleRate: SAMPLE_RATE, latencyHint: 'interactive' });
  try {
    await context.audioWorklet.addModule(new URL('../generated/mix.worklet.js', import.meta.url));
  } catch (cause) {
    await context.close();
    throw new Error('The audio engine could not be loaded. Reload the page.', { cause });
  }
  const { sources, listeners, inputs, outputs } = options;
  const status = new SharedArrayBuffer(statusBoardBytes(sources, listeners));
  const processorOptions: MixWorkletOptions = { sources, listeners, status };
  const node = new AudioWorkletNode(context, MIX_PROCESSOR, {
    numberOfInputs: inputs,
    numberOfOutputs: outputs,
    outputChannelCount: new Array<number>(outputs).fill(2),
    channelCount: 2,
    channelCountMode: 'max',
    channelInterpretation: 'discrete',
    processorOptions,
  });
  node.port.onmessage = ({ data }: MessageEvent<FromMixWorklet>) => options.onFailure(data.message);
  node.onprocessorerror = () => options.onFailure('The audio engine stopped. Reload the page; what was recorded is safe.');
  node.connect(context.destination, 0);
  return {
    context,
    node,
    board: statusBoard(status, sources, listeners),
    tell: (message, transfer = []) => node.port.postMessage(message, transfer),
    async close() {
      node.disconnect();
      if (context.state !== 'closed') await context.close();
    },
  };
}
