import { Encoder } from '@evan/opus';
import { EncodedAudioPacketSource, EncodedPacket, OggOutputFormat, Output, StreamTarget } from 'mediabunny';
import type { FileSink } from './file-sink';
import type { SoundSource } from './sound-source';

/** Packets of 20 ms. */
const FRAME = 960;
const STEREO_BPS = 128_000;
const MONO_BPS = 64_000;
/** What the encoder adds before the first sample (RFC 7845, 4.2): 6.5 ms. */
const PRE_SKIP = 312;

/** Writes a sound at 48 kHz as Opus in Ogg (RFC 7845). */
export async function writeOpus(sink: FileSink, source: SoundSource, tags: { title: string; artist: string }): Promise<void> {
  if (source.sampleRate !== 48000) throw new RangeError(`Opus is written at 48 kHz, not at ${source.sampleRate} Hz.`);
  const encoder = new Encoder({ channels: source.channels, sample_rate: 48000, application: 'audio' });
  encoder.bitrate = source.channels === 2 ? STEREO_BPS : MONO_BPS;
  const writable = new WritableStream<{ data: Uint8Array; position: number }>({ write: ({ data, position }) => sink.writeAt(position, data) });
  const output = new Output({ format: new OggOutputFormat(), target: new StreamTarget(writable) });
  const track = new EncodedAudioPacketSource('opus');
  output.addAudioTrack(track);
  output.setMetadataTags({ title: tags.title, artist: tags.artist });
  await output.start();
  const config = { decoderConfig: { codec: 'opus', sampleRate: 48000, numberOfChannels: source.channels, description: opusHead(source.channels) } };
  const frame = new Int16Array(FRAME * source.channels);
  let filled = 0;
  let packets = 0;
  const add = async (): Promise<void> => {
    const data = Uint8Array.from(encoder.encode(frame));
    await track.add(new EncodedPacket(data, 'key', (packets * FRAME) / 48000, FRAME / 48000), packets === 0 ? config : undefined);
    packets++;
    filled = 0;
    frame.fill(0);
  };
  for await (const piece of source.pieces()) {
    for (let i = 0; i < piece[0].length; i++) {
      for (let c = 0; c < source.channels; c++) frame[filled * source.channels + c] = Math.max(-32768, Math.min(32767, Math.round(piece[c][i] * 32768)));
      if (++filled === FRAME) await add();
    }
  }
  // The encoder is late by its pre-skip: what it still holds comes out with the last packet.
  if (filled > 0 || packets * FRAME < source.frames + PRE_SKIP) await add();
  await output.finalize();
}

/** The identification header (RFC 7845, 5.1). */
function opusHead(channels: number): Uint8Array {
  const head = new Uint8Array(19);
  head.set(new TextEncoder().encode('OpusHead'));
  const view = new DataView(head.buffer);
  view.setUint8(8, 1);
  view.setUint8(9, channels);
  view.setUint16(10, PRE_SKIP, true);
  view.setUint32(12, 48000, true);
  return head;
}
