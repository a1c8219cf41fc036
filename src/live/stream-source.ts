import { FIRST_MARGIN_SECONDS } from '@/core/dsp/clock-bridge';
import { newSoundRing, type SoundRing } from '@/core/dsp/sound-ring';
import { inTurn } from './in-turn';
import { getRunning } from './running-sound';
import { OUTLET_PROCESSOR, RING_PROCESSOR, type OutletOptions, type ToOutlet } from './worklet/outlet-messages';

/** A stream's sound in a context. */
export interface StreamSource {
  node: AudioNode;
  stop(): void;
}

/**
 * The sound of a stream as a node of a context. Some browsers run every stream at the rate of the system's output and let no
 * context of another rate hear it; there it is heard in a context of its own, and brought over through a ring.
 */
export function streamSource(context: AudioContext, stream: MediaStream): StreamSource {
  const near = nodeOf(context, stream);
  if (near) return { node: near, stop: () => near.disconnect() };
  const ring = newSoundRing();
  const node = new GainNode(context);
  const stopRing = streamToOwnRing(stream, ring);
  let reader: AudioWorkletNode | null = null;
  let stopped = false;
  const read = async (): Promise<void> => {
    await context.audioWorklet.addModule(new URL('./generated/outlet.worklet.js', import.meta.url));
    if (stopped) return;
    const processorOptions: OutletOptions = { ring: ring.memory, channels: 'stereo', marginSeconds: FIRST_MARGIN_SECONDS };
    reader = new AudioWorkletNode(context, OUTLET_PROCESSOR, { numberOfInputs: 0, outputChannelCount: [2], processorOptions });
    reader.connect(node);
  };
  // A context that was closed meanwhile hears nothing, and need not.
  read().catch(() => undefined);
  const stop = (): void => {
    stopped = true;
    stopRing();
    reader?.port.postMessage({ type: 'close' } satisfies ToOutlet);
    reader?.disconnect();
    node.disconnect();
  };
  return { node, stop };
}

/** The sound of a stream into a ring, by the clock of the given context where it can hear the stream, otherwise by one of its own. */
export function streamToRing(context: AudioContext, stream: MediaStream, ring: SoundRing): () => void {
  const near = nodeOf(context, stream);
  return near ? writeTo(ring, context, near) : streamToOwnRing(stream, ring);
}

/** At whatever rate the browser runs streams. */
function streamToOwnRing(stream: MediaStream, ring: SoundRing): () => void {
  let close = (): void => undefined;
  let stopped = false;
  const open = async (): Promise<void> => {
    if (stopped) return;
    const context = new AudioContext({ latencyHint: 'interactive' });
    const stop = writeTo(ring, context, context.createMediaStreamSource(stream));
    close = () => {
      stop();
      context.close().catch(() => undefined);
    };
    await getRunning(context);
  };
  // A stream that has ended meanwhile cannot be heard, and need not.
  inTurn(open).catch(() => undefined);
  return () => {
    stopped = true;
    close();
  };
}

/** Null where the stream runs at a rate that this context cannot hear. */
function nodeOf(context: AudioContext, stream: MediaStream): MediaStreamAudioSourceNode | null {
  try {
    return context.createMediaStreamSource(stream);
  } catch (error) {
    if ((error as DOMException).name === 'NotSupportedError') return null;
    throw error;
  }
}

function writeTo(ring: SoundRing, context: AudioContext, source: AudioNode): () => void {
  // A node that leads nowhere may never be asked for sound.
  const silent = new GainNode(context, { gain: 0 });
  silent.connect(context.destination);
  let writer: AudioWorkletNode | null = null;
  let stopped = false;
  const write = async (): Promise<void> => {
    await context.audioWorklet.addModule(new URL('./generated/ring.worklet.js', import.meta.url));
    if (stopped) return;
    writer = new AudioWorkletNode(context, RING_PROCESSOR, { numberOfOutputs: 1, outputChannelCount: [2], processorOptions: { ring: ring.memory } });
    source.connect(writer).connect(silent);
  };
  write().catch(() => undefined);
  return () => {
    stopped = true;
    source.disconnect();
    writer?.port.postMessage('close');
    writer?.disconnect();
    silent.disconnect();
  };
}
