import { Encoder } from '@evan/opus';
import { createMp3Encoder } from 'wasm-media-encoders';
import { FrameCutter, PACKET_SAMPLES } from '@/core/air/packets';
import type { StreamCoding } from '@/core/air/station';
import { mp3Gain } from '@/core/formats/mp3-gain';

const RATE = 48_000;
const HZ = 440;
/** Peak of the tone, dBFS. */
export const TONE_DB = -12;

/** A tone as packets of half a second. */
export async function codedTone(coding: StreamCoding, seconds: number): Promise<Uint8Array[][]> {
  const each = PACKET_SAMPLES[coding.codec];
  const perPiece = Math.round(RATE / 2 / each);
  const sample = (i: number) => 10 ** (TONE_DB / 20) * Math.sin((2 * Math.PI * HZ * i) / RATE);
  const packets: Uint8Array[] = [];
  if (coding.codec === 'mp3') {
    const encoder = await createMp3Encoder();
    encoder.configure({ sampleRate: RATE, channels: 2, bitrate: coding.kbps });
    const cutter = new FrameCutter(3 * coding.kbps);
    const side = Float32Array.from({ length: seconds * RATE }, (_, i) => mp3Gain(coding.kbps) * sample(i));
    for (let at = 0; at < side.length; at += each) packets.push(...cutter.push(encoder.encode([side.subarray(at, at + each), side.subarray(at, at + each)])));
  } else {
    const encoder = new Encoder({ channels: 2, sample_rate: RATE, application: 'audio' });
    encoder.bitrate = 1000 * coding.kbps;
    for (let at = 0; at < seconds * RATE; at += each) packets.push(Uint8Array.from(encoder.encode(Int16Array.from({ length: 2 * each }, (_, k) => 32767 * sample(at + (k >> 1))))));
  }
  return Array.from({ length: Math.floor(packets.length / perPiece) }, (_, k) => packets.slice(k * perPiece, (k + 1) * perPiece));
}
