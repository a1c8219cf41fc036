import { joinBytes } from '../formats/join-bytes';
import { OggOpusStream } from '../formats/ogg-opus';
import { PACKET_SAMPLES, silentMp3Frame, SILENT_OPUS_PACKET } from './packets';
import type { StreamCoding } from './station';

/** Packets of one page: 0.2 s. */
const PAGE_PACKETS = 10;

/** Makes the bytes a server is sent of the packets of a stream, for one connection. */
export interface StreamWriter {
  /** What comes before the first packet. */
  begin(title: string): Uint8Array;
  sound(packets: readonly Uint8Array[]): Uint8Array;
  /** What another title needs in the stream itself; nothing where it goes another way. */
  retitle(title: string): Uint8Array;
  /** A packet of silence; null while it is not known how one looks. */
  silence(): Uint8Array | null;
  end(): Uint8Array;
}

const NOTHING = new Uint8Array(0);

/** @param serial of the first logical stream; those after other titles count on */
export function streamWriter(coding: StreamCoding, serial: number): StreamWriter {
  return coding.codec === 'mp3' ? mp3Writer(coding.kbps) : opusWriter(serial);
}

/** Frames stand by themselves; titles go by requests of their own. */
function mp3Writer(kbps: number): StreamWriter {
  let last: Uint8Array | null = null;
  return {
    begin: () => NOTHING,
    sound(packets) {
      last = packets.at(-1) ?? last;
      return joinBytes(packets);
    },
    retitle: () => NOTHING,
    silence: () => last && silentMp3Frame(last, kbps),
    end: () => NOTHING,
  };
}

/** Each title begins a logical stream. Nothing is left out at its beginning: the encoder goes on, and so does the sound. */
function opusWriter(serial: number): StreamWriter {
  let stream = new OggOpusStream(serial);
  const begin = (title: string) => stream.begin(2, 0, { TITLE: title });
  return {
    begin,
    sound(packets) {
      const pages: Uint8Array[] = [];
      for (let k = 0; k < packets.length; k += PAGE_PACKETS) pages.push(stream.sound(packets.slice(k, k + PAGE_PACKETS), PACKET_SAMPLES.opus));
      return joinBytes(pages);
    },
    retitle(title) {
      const end = stream.end();
      stream = new OggOpusStream(++serial);
      return joinBytes([end, begin(title)]);
    },
    silence: () => SILENT_OPUS_PACKET,
    end: () => stream.end(),
  };
}
