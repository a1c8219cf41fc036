import { TRACE_COLUMNS, type StatusBoard } from '../worklet/status-board';
import type { Look } from './paint-messages';

/** Pixels a column takes: a bar of two and a gap of one. */
const COLUMN_PX = 3;
/** Levels below this are drawn as the resting line. */
const FLOOR_DB = -54;
/** A bar that comes near full scale. */
const HOT = 0.89;

/**
 * What a source says, moving left: the newest sound is at the edge on the right.
 * @param passed of the time between two readings, how much went by since the newest, 0 to 1
 */
export function drawTrace(context: OffscreenCanvasRenderingContext2D, { slot, width, height, ratio, colours }: Look, board: StatusBoard | null, readings: number, passed = 0): void {
  context.clearRect(0, 0, width, height);
  const step = COLUMN_PX * ratio;
  const columns = Math.min(TRACE_COLUMNS - 1, Math.floor(width / step));
  const middle = height / 2;
  context.fillStyle = colours.rest;
  context.fillRect(0, middle - 0.5, width, 1);
  for (let back = 0; board && back < columns && back < readings; back++) {
    const peak = board.trace[slot * TRACE_COLUMNS + ((readings - 1 - back) % TRACE_COLUMNS)];
    const share = 1 + (20 * Math.log10(peak)) / -FLOOR_DB;
    if (!(share > 0)) continue;
    const half = Math.max(1, share * middle * 0.94);
    context.globalAlpha = 1 - 0.75 * (back / columns);
    context.fillStyle = peak > HOT ? colours.hot : colours.voice;
    context.fillRect(width - (back + passed + 1) * step - 2, middle - half, step * 0.62, half * 2);
  }
  context.globalAlpha = 1;
  context.fillStyle = colours.edge;
  context.fillRect(width - 1.5, 0, 1.5, height);
}
