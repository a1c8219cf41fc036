import { createHash } from 'node:crypto';
import { decodeSamples } from '@/core/formats/wav/sample-format';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { PARCEL_HEADER, type ParcelEntry } from '@/core/takes/parcel';
import type { Random } from '@/core/random';
import type { RecordedTrack } from '../recorder/messages';

/** What a recorder says when it seals. */
export interface SealedAs {
  lengthSamples: number;
  clockAtStart: number;
  pauses: { atSample: number; lengthSamples: number }[];
  gaps: { track: string; atSample: number; lengthSamples: number; cause: string }[];
}

/** A server that keeps one take, and fails in every way a real one does: away, busy, or not heard when it has answered. */
export interface FakeTakeServer {
  fetch(url: string, init: { headers: Record<string, string>; body: Blob | string }): Promise<Response>;
  /** Nobody reaches it while it is away. */
  setAway(away: boolean): void;
  sealed(): SealedAs | null;
  /** Plans of the take's log, in their places. */
  plans(): { atSample: number }[];
  /** Tracks that were announced while the take ran, by their first sample. */
  lateTracks(): Map<string, number>;
  /** A track as its chunks say, channel after channel. */
  track(track: RecordedTrack, lengthSamples: number): Float32Array[];
  /** Chunks that were sent again with other bytes: there must be none. */
  contradictions(): string[];
}

const LATEST_MS = 900;
const refused = (status: number, code: string) => Response.json({ code, message: `The test server says ${code}.` }, { status });

export function createFakeTakeServer(random: Random): FakeTakeServer {
  const chunks = new Map<string, Uint8Array>();
  const contradictions: string[] = [];
  const plans: { atSample: number }[] = [];
  const late = new Map<string, number>();
  const gaps: SealedAs['gaps'] = [];
  let sealed: SealedAs | null = null;
  let away = false;

  const keep = async (init: { headers: Record<string, string>; body: Blob }): Promise<Response> => {
    const body = new Uint8Array(await init.body.arrayBuffer());
    let at = 0;
    for (const { track, index, sha256, bytes } of JSON.parse(init.headers[PARCEL_HEADER]) as ParcelEntry[]) {
      const chunk = body.slice(at, at + bytes);
      at += bytes;
      if (createHash('sha256').update(chunk).digest('hex') !== sha256) return refused(422, 'checksum');
      const key = `${track} ${index}`;
      const before = chunks.get(key);
      if (before && Buffer.compare(before, chunk) !== 0) contradictions.push(key);
      chunks.set(key, chunk);
    }
    return Response.json({});
  };

  const hear = (what: string, body: unknown): Response => {
    if (what === 'seal') sealed = { ...(body as SealedAs), gaps: [...gaps, ...(body as SealedAs).gaps] };
    if (what === 'tracks') for (const { id, fromSample } of (body as { tracks: { id: string; fromSample: number }[] }).tracks) if (!late.has(id)) late.set(id, fromSample);
    if (what === 'log') {
      const log = body as { plans?: { place: number; atSample: number }[]; gaps?: SealedAs['gaps'] };
      for (const { place, ...plan } of log.plans ?? []) plans[place] ??= plan;
      gaps.push(...(log.gaps ?? []));
    }
    return Response.json({});
  };

  return {
    async fetch(url, init) {
      await new Promise((resolve) => setTimeout(resolve, random.index(LATEST_MS)));
      const luck = random.next();
      if (away || luck < 0.15) throw new TypeError('network');
      if (luck < 0.25) return refused(503, 'busy');
      const answer = url.endsWith('/chunks') ? await keep(init as { headers: Record<string, string>; body: Blob }) : hear(url.split('/').at(-1)!, JSON.parse(init.body as string));
      // Kept, and nobody heard of it.
      if (luck < 0.35) throw new TypeError('network');
      return answer;
    },
    setAway(now) {
      away = now;
    },
    sealed: () => sealed,
    plans: () => plans,
    lateTracks: () => late,
    track({ id, channels, format }, lengthSamples) {
      const whole = Array.from({ length: channels }, () => new Float32Array(lengthSamples).fill(NaN));
      for (let index = 0; index * CHUNK_FRAMES < lengthSamples; index++) {
        const chunk = chunks.get(`${id} ${index}`);
        if (chunk) decodeSamples(format, channels, chunk).forEach((samples, channel) => whole[channel].set(samples, index * CHUNK_FRAMES));
      }
      return whole;
    },
    contradictions: () => contradictions,
  };
}
