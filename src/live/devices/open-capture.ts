import { newSoundRing, type SoundRing } from '@/core/dsp/sound-ring';
import { streamToRing } from '../stream-source';
import type { CaptureRequest } from './capture-messages';

/** What a device captures: into a ring, by the device's own clock where the browser lets a thread read it. */
export interface Capture {
  label: string;
  deviceId: string;
  /** What the browser says the device takes, ms. */
  latencyMs: number;
  ring: SoundRing;
  close(): void;
}

export type CaptureResult = { found: true; capture: Capture } | { found: false; reason: string; refused?: boolean };

/** Takes an audio track apart; not in every browser. */
interface TrackProcessor {
  readable: ReadableStream<AudioData>;
}
type TrackProcessorMaker = new (options: { track: MediaStreamTrack; maxBufferSize?: number }) => TrackProcessor;

/** Pieces of sound that may wait for a thread that is held up: two seconds and more. */
const MOST_PIECES = 200;

/**
 * Opens an input by its id; without one, the device the browser offers. Sound is taken as it is: whatever the browser would do
 * to it cannot be undone later.
 */
export async function openCapture(context: AudioContext, deviceId: string | null, onEnded: () => void): Promise<CaptureResult> {
  let stream: MediaStream;
  try {
    stream = await navigator.mediaDevices.getUserMedia({
      audio: {
        ...(deviceId === null ? {} : { deviceId: { exact: deviceId } }),
        echoCancellation: false,
        noiseSuppression: false,
        autoGainControl: false,
        channelCount: { ideal: 2 },
        sampleRate: context.sampleRate,
      },
    });
  } catch (error) {
    return { found: false, reason: reasonFor(error as DOMException), refused: (error as DOMException).name === 'NotAllowedError' };
  }
  const [track] = stream.getAudioTracks();
  track.addEventListener('ended', onEnded);
  const settings = track.getSettings() as MediaTrackSettings & { latency?: number };
  const end = (): void => {
    track.removeEventListener('ended', onEnded);
    track.stop();
  };
  const about = { label: track.label || 'microphone', deviceId: settings.deviceId ?? '', latencyMs: 1000 * (settings.latency ?? 0) };
  const ring = newSoundRing();
  // By the audio thread of a context the browser has brought the sound to that context's clock.
  const stop = byThread(track, ring) ?? streamToRing(context, stream, ring);
  const close = (): void => {
    end();
    stop();
  };
  return { found: true, capture: { ...about, ring, close } };
}

/** A thread of its own reads the track as it comes from the device. */
function byThread(track: MediaStreamTrack, ring: SoundRing): (() => void) | null {
  const Processor = (globalThis as { MediaStreamTrackProcessor?: TrackProcessorMaker }).MediaStreamTrackProcessor;
  if (!Processor || typeof Worker === 'undefined') return null;
  const { readable } = new Processor({ track, maxBufferSize: MOST_PIECES });
  const worker = new Worker(new URL('./capture.worker.ts', import.meta.url), { type: 'module' });
  worker.postMessage({ readable, ring: ring.memory } satisfies CaptureRequest, [readable]);
  return () => worker.terminate();
}

function reasonFor(error: DOMException): string {
  switch (error.name) {
    case 'NotAllowedError':
      return 'the browser was not allowed to use a microphone';
    case 'NotFoundError':
    case 'OverconstrainedError':
      return 'no microphone was found';
    case 'NotReadableError':
      return 'another program holds the microphone';
    default:
      return `the microphone could not be opened (${error.message})`;
  }
}
