import { createMp3Encoder } from 'wasm-media-encoders';
import { mp3Gain } from '@/core/formats/mp3-gain';
import { FrameCutter, mp3FrameBytes, PACKET_SAMPLES } from '@/core/air/packets';
import type { StreamCoding } from '@/core/air/station';

const RATE = 48_000;

/** Makes packets of a stereo mix at 48 kHz, as it comes. */
export interface StreamEncoder {
  /** Samples of one packet, and by how many what a packet holds is older than what was last taken when it came. */
  packetSamples: number;
  delaySamples: number;
  take(left: Float32Array, right: Float32Array): void;
  /** Packets that are finished. */
  packets(): Uint8Array[];
  close(): void;
}

/** @throws {Error} with words, when this browser cannot */
export const streamEncoder = (coding: StreamCoding, failed: (reason: string) => void): Promise<StreamEncoder> => (coding.codec === 'mp3' ? mp3Encoder(coding.kbps) : opusEncoder(coding.kbps, failed));

/** What a layer III encoder holds back: its filter bank and its look-ahead, samples. */
const MP3_DELAY = 1105;

async function mp3Encoder(kbps: number): Promise<StreamEncoder> {
  const encoder = await createMp3Encoder();
  encoder.configure({ sampleRate: RATE, channels: 2, bitrate: kbps as 128 });
  const cutter = new FrameCutter(mp3FrameBytes(kbps));
  const gain = mp3Gain(kbps);
  const louder = (samples: Float32Array): Float32Array => samples.map((sample) => gain * sample);
  let ready: Uint8Array[] = [];
  return {
    packetSamples: PACKET_SAMPLES.mp3,
    delaySamples: MP3_DELAY,
    take: (left, right) => void ready.push(...cutter.push(encoder.encode([louder(left), louder(right)]))),
    packets: () => ready.splice(0),
    close: () => (ready = []),
  };
}

/** libopus at 48 kHz looks ahead 6.5 ms. */
const OPUS_DELAY = 312;

/** The browser's own encoder. */
async function opusEncoder(kbps: number, failed: (reason: string) => void): Promise<StreamEncoder> {
  if (typeof AudioEncoder === 'undefined') throw new Error('This browser cannot code Opus. Choose MP3 for this station, or another browser.');
  // As TypeScript's library does not know Opus's own settings.
  const config = { codec: 'opus', sampleRate: RATE, numberOfChannels: 2, bitrate: 1000 * kbps, opus: { frameDuration: 20_000, application: 'audio' } } as AudioEncoderConfig;
  const { supported } = await AudioEncoder.isConfigSupported(config);
  if (!supported) throw new Error('This browser cannot code Opus so. Choose another rate or MP3 for this station.');
  const ready: Uint8Array[] = [];
  const encoder = new AudioEncoder({
    output(chunk) {
      const bytes = new Uint8Array(chunk.byteLength);
      chunk.copyTo(bytes);
      ready.push(bytes);
    },
    error: (error) => failed(`The browser’s encoder stopped: ${error.message}`),
  });
  encoder.configure(config);
  let samples = 0;
  return {
    packetSamples: PACKET_SAMPLES.opus,
    delaySamples: OPUS_DELAY,
    take(left, right) {
      const data = new Float32Array(left.length + right.length);
      data.set(left);
      data.set(right, left.length);
      const sound = new AudioData({ format: 'f32-planar', sampleRate: RATE, numberOfChannels: 2, numberOfFrames: left.length, timestamp: Math.round((1e6 * samples) / RATE), data });
      samples += left.length;
      encoder.encode(sound);
      sound.close();
    },
    packets: () => ready.splice(0),
    close: () => encoder.close(),
  };
}
