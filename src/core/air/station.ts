import type { ListenerId } from '../hearing/ids';
import { z } from '../zod';

/** Constant rates a stream can have as MP3 (MPEG-1 layer III at 48 kHz) and as Opus, kbit/s. */
export const MP3_KBPS = [64, 96, 128, 160, 192, 256, 320] as const;
export const OPUS_KBPS = [48, 64, 96, 128, 192, 256] as const;

/** The address of the practice radio, which comes with the product. */
export const PRACTICE_RADIO = 'practice';
export const MOST_STATIONS = 8;

/** How a mix is coded for the air. */
export type StreamCoding = { codec: 'mp3'; kbps: (typeof MP3_KBPS)[number] } | { codec: 'opus'; kbps: (typeof OPUS_KBPS)[number] };

/** A place on internet radio where one mix of a show is sent to. */
export interface StationSettings {
  /** What the host calls it, and its listeners are told. */
  name: string;
  /** `http(s)://host[:port]/mount`, or {@link PRACTICE_RADIO}. */
  address: string;
  user: string;
  /** The program or a feed. */
  listener: ListenerId;
  coding: StreamCoding;
  about: string;
  genre: string;
  homepage: string;
  /** Whether the server may put it into public lists. */
  listed: boolean;
  /** Brought slowly to the show's loudness; its peaks are held in any case. */
  levelled: boolean;
  /** Some servers take a body without an end only in the pieces of HTTP/1.1 (RFC 9112, 7.1); most want it plain. */
  chunked: boolean;
}

/** A station as a page knows it: whether it has a password, and never which. */
export interface Station {
  id: string;
  settings: StationSettings;
  hasPassword: boolean;
}

/** Header values and titles are one line. */
const line = (most: number) =>
  z
    .string()
    .trim()
    .max(most)
    .refine((text) => !/[\p{Cc}\p{Cf}]/u.test(text), 'holds a character that no line of text can have');

const kbpsOf = <Rate extends number>(rates: readonly Rate[]) => z.number().refine((kbps): kbps is Rate => rates.includes(kbps as Rate), `is none of ${rates.join(', ')} kbit/s`);

export const addressSchema = z
  .string()
  .trim()
  .max(300)
  .refine((text) => text === PRACTICE_RADIO || troubleWithAddress(text) === null, { error: ({ input }) => troubleWithAddress(String(input)) ?? '' });

/** What is wrong with an address, in words; null where nothing is. */
export function troubleWithAddress(text: string): string | null {
  const url = URL.parse(text);
  if (!url || !['http:', 'https:'].includes(url.protocol)) return 'The address begins with http:// or https:// and names the server and the mount, such as https://radio.example:8443/show.';
  if (url.username || url.password) return 'Name and password have fields of their own and do not belong in the address.';
  if (url.search || url.hash) return 'The address ends with the mount, without ? and #.';
  if (url.pathname.length < 2) return 'The address lacks the mount: the part after the server’s name, such as /show.';
  return null;
}

export const stationSchema: z.ZodType<StationSettings> = z.strictObject({
  name: line(80).pipe(z.string().min(1)),
  address: addressSchema,
  user: line(60).pipe(z.string().regex(/^[^:]+$/, 'A user name is not empty and has no colon (RFC 7617).')),
  listener: z.string().regex(/^(program|feed:[a-z0-9-]{1,40})$/) as unknown as z.ZodType<ListenerId>,
  coding: z.discriminatedUnion('codec', [z.strictObject({ codec: z.literal('mp3'), kbps: kbpsOf(MP3_KBPS) }), z.strictObject({ codec: z.literal('opus'), kbps: kbpsOf(OPUS_KBPS) })]),
  about: line(200),
  genre: line(60),
  homepage: line(200),
  listed: z.boolean(),
  levelled: z.boolean(),
  chunked: z.boolean(),
});

/** Goes into an Authorization header, base64: any text of one line. */
export const passwordSchema = line(200).pipe(z.string().min(1));

export const NEW_STATION: StationSettings = Object.freeze({
  name: 'Practice radio',
  address: PRACTICE_RADIO,
  user: 'source',
  listener: 'program',
  coding: Object.freeze({ codec: 'mp3', kbps: 128 }),
  about: '',
  genre: 'Talk',
  homepage: '',
  listed: false,
  levelled: true,
  chunked: false,
});

/** The media type of a stream. */
export const mediaTypeOf = ({ codec }: StreamCoding): string => (codec === 'mp3' ? 'audio/mpeg' : 'application/ogg');
export const codingWords = ({ codec, kbps }: StreamCoding): string => `${codec === 'mp3' ? 'MP3' : 'Ogg Opus'}, ${kbps} kbit/s`;
