import type { Page } from '@playwright/test';
import { simulateCall } from '../../e2e/simulate';
import type { newestGaps, readTake } from '../../e2e/newest-take';
import { createWavReader } from '../../src/core/formats/wav/reader';

const RATE = 48_000;
/** Whoever is recorded as a steady tone is not silent for so long. */
const SILENT_SAMPLES = RATE / 10;
/** Where a gap begins and ends, what is heard may fade. */
const EDGE_SAMPLES = RATE / 20;
/** Differences up to −80 dB of full scale are not looked at: what is missing or moved is far above. */
const SAME = 1e-4;

export type Gap = Awaited<ReturnType<typeof newestGaps>>[number];

export interface JudgedTrack {
  name: string;
  seconds: number;
  /** Samples outside listed gaps that are not what was sent, or silent where a tone was; where the first lies, s. */
  unlisted: number;
  firstAt: number | null;
}

/** A track as it is downloaded, in pieces of whatever length is asked for. */
class TrackStream {
  #left = new Float32Array(0);
  readonly #wav = createWavReader();

  private constructor(private readonly bytes: AsyncIterator<Uint8Array>) {}

  static async open(page: Page, href: string): Promise<TrackStream> {
    const cookie = (await page.context().cookies()).map(({ name, value }) => `${name}=${value}`).join('; ');
    const response = await fetch(new URL(href, page.url()), { headers: { cookie } });
    if (!response.ok || !response.body) throw new Error(`${href} was not downloaded: ${response.status}.`);
    return new TrackStream((response.body as unknown as AsyncIterable<Uint8Array>)[Symbol.asyncIterator]());
  }

  /** The first channel's next samples; fewer at the end. */
  async read(count: number): Promise<Float32Array> {
    while (this.#left.length < count) {
      const { value, done } = await this.bytes.next();
      if (done) break;
      const [more] = this.#wav.push(value);
      if (!more) continue;
      const both = new Float32Array(this.#left.length + more.length);
      both.set(this.#left);
      both.set(more, this.#left.length);
      this.#left = both;
    }
    const read = this.#left.slice(0, count);
    this.#left = this.#left.slice(read.length);
    return read;
  }
}

/** Whether a sample lies in a listed gap, asked in order. */
function inGaps(gaps: readonly Gap[], edge: number): (sample: number) => boolean {
  const sorted = gaps.map(({ atSample, lengthSamples }) => [atSample - edge, atSample + lengthSamples + edge]).sort(([a], [b]) => a - b);
  let next = 0;
  return (sample) => {
    while (next < sorted.length && sorted[next][1] <= sample) next++;
    return next < sorted.length && sorted[next][0] <= sample;
  };
}

/** Compares tracks of simulated lines, sample by sample, with what those lines sent. */
export async function judgeSimulated(page: Page, take: Awaited<ReturnType<typeof readTake>>, tracks: { source: string; name: string; href: string }[], gaps: readonly Gap[]): Promise<JudgedTrack[]> {
  const judged = await Promise.all(
    tracks.map(async ({ source, name, href }) => ({ source, stream: await TrackStream.open(page, href), listed: inGaps(gaps.filter(({ recorded }) => recorded === source), 0), found: { name, seconds: 0, unlisted: 0, firstAt: null } as JudgedTrack })),
  );
  const sent = judged.map(() => new Float32Array(RATE));
  let [at, filled] = [0, 0];
  const compare = async () => {
    for (const [k, { stream, listed, found }] of judged.entries()) {
      const came = await stream.read(filled);
      for (let i = 0; i < filled; i++) if (!listed(at + i) && !(Math.abs((came[i] ?? NaN) - sent[k][i]) <= SAME)) note(found, at + i);
      found.seconds += came.length / RATE;
    }
    at += filled;
    filled = 0;
  };
  for (const block of simulateCall({ ...take, bellAt: -1, bellLevelDb: 0 })) {
    const { length } = block.get(judged[0].source)!.left;
    const used = Math.min(length, take.lengthSamples - at - filled);
    if (filled + used > RATE) await compare();
    for (const [k, { source }] of judged.entries()) sent[k].set(block.get(source)!.left.subarray(0, used), filled);
    filled += used;
  }
  await compare();
  return judged.map(({ found }) => found);
}

/** A track of somebody who is heard all the time: silence that no gap tells of. */
export async function judgeSteady(page: Page, { source, name, href }: { source: string; name: string; href: string }, gaps: readonly Gap[]): Promise<JudgedTrack> {
  const stream = await TrackStream.open(page, href);
  const listed = inGaps(gaps.filter(({ recorded }) => recorded === source), EDGE_SAMPLES);
  const found: JudgedTrack = { name, seconds: 0, unlisted: 0, firstAt: null };
  let [at, silent] = [0, 0];
  for (let piece = await stream.read(RATE); piece.length > 0; piece = await stream.read(RATE)) {
    for (let i = 0; i < piece.length; i++) {
      silent = piece[i] === 0 && !listed(at + i) ? silent + 1 : 0;
      if (silent === SILENT_SAMPLES) note(found, at + i, SILENT_SAMPLES);
      else if (silent > SILENT_SAMPLES) found.unlisted++;
    }
    at += piece.length;
  }
  found.seconds = at / RATE;
  return found;
}

function note(found: JudgedTrack, sample: number, count = 1): void {
  found.unlisted += count;
  found.firstAt ??= sample / RATE;
}
