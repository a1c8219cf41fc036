import { RATE, soundRing, WRITER_LATE_MS, writeSound } from '@/core/dsp/sound-ring';
import type { CaptureRequest, FromCapture } from './capture-messages';

/** About a second of pieces: the least late of them says how the device's clock stands. */
const LOOKED_AT = 24;

/** Brings what a device captures, piece by piece and by the device's own clock, into a ring that the audio thread reads. */
async function capture({ readable, ring: memory }: CaptureRequest): Promise<void> {
  const ring = soundRing(memory);
  const reader = readable.getReader();
  let left = new Float32Array(4096);
  let right = new Float32Array(4096);
  const late: number[] = [];
  let soFarMs = 0;
  for (;;) {
    const { value: data, done } = await reader.read();
    if (done) break;
    const { numberOfFrames: frames, numberOfChannels: channels } = data;
    if (frames > left.length) [left, right] = [new Float32Array(frames), new Float32Array(frames)];
    data.copyTo(left.subarray(0, frames), { planeIndex: 0, format: 'f32-planar' });
    if (channels > 1) data.copyTo(right.subarray(0, frames), { planeIndex: 1, format: 'f32-planar' });
    else right.set(left.subarray(0, frames));
    ring.counters[RATE] = data.sampleRate;
    late.push(data.timestamp / 1000 - soFarMs);
    if (late.length > LOOKED_AT) late.shift();
    ring.facts[WRITER_LATE_MS] = Math.min(...late);
    soFarMs += (1000 * frames) / data.sampleRate;
    data.close();
    writeSound(ring, left, right, frames, Date.now());
  }
  postMessage({ type: 'ended' } satisfies FromCapture);
}

self.onmessage = ({ data }: MessageEvent<CaptureRequest>) => {
  capture(data).catch((error: Error) => postMessage({ type: 'failed', message: error.message } satisfies FromCapture));
};
