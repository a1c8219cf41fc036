import { valueAt } from '../dsp/sinc';
import type { HomeClock } from './clock';
import type { ReadSamples } from './recordings';
import type { LineStretch } from './stretches';

/**
 * Where every session sample lies in the home recording. The delay of a line moves now and then as its buffer does; a
 * voice that followed it would be cut at every move, so the placed recording runs on evenly at the delay the line had
 * for most of the time, and moves only where the recording itself broke off.
 */
export interface Placement {
  /** In order, without holes between them; ends are exclusive, samples of the session. */
  pieces: { from: number; to: number; offset: number }[];
  /** Home sample, between samples too, that belongs to a session sample of a piece. */
  homeAt(piece: { offset: number }, at: number): number;
}

/** A jump beyond this is no line's buffer: the recording stood still, or the way of the line is another one. 0.4 s. */
const BROKE_OFF = 19200;
/** Samples the interpolation reads to either side. */
const BESIDE = 34;

export function placementOf(stretches: readonly LineStretch[], clock: HomeClock): Placement {
  const runs: LineStretch[][] = [];
  for (const stretch of stretches) {
    const last = runs.at(-1);
    if (last && Math.abs(last.at(-1)!.offset - stretch.offset) < BROKE_OFF) last.push(stretch);
    else runs.push([stretch]);
  }
  return {
    pieces: runs.map((run) => ({ from: run[0].from, to: run.at(-1)!.to, offset: usualOffset(run) })),
    homeAt: ({ offset }, at) => at + offset + clock.ahead(at),
  };
}

/** The offset that holds at half the time or more: a median by length. */
function usualOffset(run: readonly LineStretch[]): number {
  const sorted = [...run].sort((a, b) => a.offset - b.offset);
  const half = run.reduce((sum, { from, to }) => sum + to - from, 0) / 2;
  let sum = 0;
  return sorted.find(({ from, to }) => (sum += to - from) >= half)!.offset;
}

/** A stretch of the home recording on the session clock, silence where it has none. */
export async function placed(home: ReadSamples, { pieces, homeAt }: Placement, from: number, length: number): Promise<Float32Array<ArrayBuffer>> {
  const out = new Float32Array(length);
  for (const piece of pieces) {
    const first = Math.max(from, piece.from);
    const end = Math.min(from + length, piece.to);
    if (end <= first) continue;
    const begin = homeAt(piece, first);
    // Over a block the clock's change of pace is far below what can be heard: one step serves it.
    const step = (homeAt(piece, end) - begin) / (end - first);
    const readFrom = Math.floor(begin) - BESIDE;
    const samples = await home(readFrom, Math.ceil((end - first) * step) + 2 * BESIDE + 1);
    for (let i = 0; i < end - first; i++) out[first - from + i] = valueAt(samples, begin + i * step - readFrom);
  }
  return out;
}
