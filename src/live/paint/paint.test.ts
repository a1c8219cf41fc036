import { describe, expect, it } from 'vitest';
import { statusBoard, statusBoardBytes, TRACE_COLUMNS } from '../worklet/status-board';
import { drawLevel } from './draw-level';
import { drawTrace } from './draw-trace';
import { heldPeakDb, levelShare } from './level-scale';
import type { Look } from './paint-messages';

/** A context that keeps what was filled, with its colour. */
function canvas() {
  const rects: { colour: string; x: number; width: number; height: number }[] = [];
  const context = {
    fillStyle: '',
    globalAlpha: 1,
    clearRect: () => undefined,
    fillRect: (x: number, _: number, width: number, height: number) => rects.push({ colour: context.fillStyle, x, width, height }),
  };
  return { context: context as unknown as OffscreenCanvasRenderingContext2D, of: (colour: string) => rects.filter((one) => one.colour === colour) };
}

const look = (change: Partial<Look> = {}): Look => ({
  slot: 1,
  width: 300,
  height: 40,
  ratio: 1,
  marked: true,
  colours: { voice: 'voice', hot: 'hot', rest: 'rest', edge: 'edge', ground: 'ground', well: 'well', faint: 'faint', text: 'text' },
  ...change,
});

/** A board whose second source had these peaks, the newest last. */
function boardOf(peaks: number[]) {
  const board = statusBoard(new SharedArrayBuffer(statusBoardBytes(3, 2)), 3, 2);
  peaks.forEach((peak, k) => (board.trace[TRACE_COLUMNS + (k % TRACE_COLUMNS)] = peak));
  Atomics.store(board.readings, 0, peaks.length);
  return board;
}

describe('what moves on the desk', () => {
  it('is a level as long as it is loud, red where there is no room left, with its highest moment marked', () => {
    const { context, of } = canvas();
    drawLevel(context, look(), -12, -6);
    expect(of('voice')[0].width).toBeCloseTo(300 * levelShare(-12), 6);
    expect(of('text')[0].x).toBeCloseTo(300 * levelShare(-6), 6);
    expect(of('faint')).toHaveLength(3);
    const loud = canvas();
    drawLevel(loud.context, look(), -1, -1);
    expect([loud.of('hot').length, loud.of('voice').length]).toEqual([1, 0]);
    const silent = canvas();
    drawLevel(silent.context, look(), -Infinity, -Infinity);
    expect([silent.of('voice')[0].width, silent.of('text')]).toEqual([0, []]);
  });

  it('is a trace with the newest sound on the right, and nothing of before the call', () => {
    const { context, of } = canvas();
    drawTrace(context, look(), boardOf([0.1, 0.95, 0.3]), 3);
    expect(of('voice').map(({ x }) => x)).toEqual([295, 289]);
    expect(of('hot').map(({ x }) => x)).toEqual([292]);
    expect(of('hot')[0].height).toBeGreaterThan(of('voice')[0].height);
    const none = canvas();
    drawTrace(none.context, look(), null, 0);
    expect([none.of('voice'), none.of('rest').length, none.of('edge').length]).toEqual([[], 1, 1]);
  });

  it('has the highest peak of two seconds in numbers, also when the board has gone round', () => {
    const peaks = Array.from({ length: TRACE_COLUMNS + 200 }, (_, k) => (k === TRACE_COLUMNS + 150 ? 0.5 : k === TRACE_COLUMNS + 60 ? 0.9 : 0.1));
    expect(heldPeakDb(boardOf(peaks), 1)).toBeCloseTo(20 * Math.log10(0.5), 4);
    expect(heldPeakDb(boardOf([]), 1)).toBe(-Infinity);
  });
});
