import { statusBoard, type StatusBoard } from '../worklet/status-board';
import { drawLevel } from './draw-level';
import { drawTrace } from './draw-trace';
import { COLUMN_MS, HELD_MS } from './level-scale';
import type { Look, PaintKind, ToPainter } from './paint-messages';

/** One canvas, and what was drawn on it last. */
interface Painted {
  kind: PaintKind;
  canvas: OffscreenCanvas;
  context: OffscreenCanvasRenderingContext2D | null;
  look: Look | null;
  drawn: string;
  held: { db: number; at: number };
}

const canvases = new Map<number, Painted>();
let board: StatusBoard | null = null;
let running = false;
/** Frames in which something was drawn: read by the benchmark. */
const counted = globalThis as unknown as { framesPainted: number };
counted.framesPainted = 0;

/** Between two drawings where little is to move: a trace goes on in steps. */
const CALM_MS = 125;
let calm = false;

/** Before a frame of the screen; a worker that is told of none draws sixty times a second. */
const beforeFrame: (call: () => void) => void = typeof requestAnimationFrame === 'function' ? (call) => void requestAnimationFrame(call) : (call) => void setTimeout(call, 16);

const nextFrame = (call: () => void): void => (calm ? void setTimeout(call, CALM_MS) : beforeFrame(call));

self.onmessage = ({ data }: MessageEvent<ToPainter>) => {
  switch (data.type) {
    case 'board':
      board = data.board && statusBoard(data.board.status, data.board.sources, data.board.listeners);
      break;
    case 'calm':
      calm = data.calm;
      break;
    case 'canvas':
      canvases.set(data.id, { kind: data.kind, canvas: data.canvas, context: data.canvas.getContext('2d'), look: null, drawn: '', held: { db: -Infinity, at: 0 } });
      break;
    case 'look': {
      const painted = canvases.get(data.id);
      if (painted) Object.assign(painted, { look: data.look, drawn: '' });
      break;
    }
    case 'gone':
      canvases.delete(data.id);
  }
  if (!running) nextFrame(draw);
  running = true;
};

/** The newest reading, and when it was seen: between two readings a trace moves on by itself. */
const newest = { readings: 0, at: 0 };

function draw(): void {
  const readings = board ? Atomics.load(board.readings, 0) : 0;
  const now = performance.now();
  if (readings !== newest.readings) Object.assign(newest, { readings, at: now });
  const passed = board ? Math.min(1, (now - newest.at) / COLUMN_MS) : 0;
  let drew = false;
  for (const painted of canvases.values()) if (paint(painted, readings, passed)) drew = true;
  if (drew) counted.framesPainted++;
  // Without a call nothing moves: the next message wakes it up.
  running = board !== null && canvases.size > 0;
  if (running) nextFrame(draw);
}

/** Draws one canvas if it looks otherwise than it did. */
function paint(painted: Painted, readings: number, passed: number): boolean {
  const { kind, canvas, context, look, held } = painted;
  if (!context || !look || look.width === 0) return false;
  if (canvas.width !== look.width || canvas.height !== look.height) Object.assign(canvas, { width: look.width, height: look.height });
  const peakDb = board ? 20 * Math.log10(board.sourcePeak[look.slot]) : -Infinity;
  if (peakDb >= held.db || performance.now() - held.at > HELD_MS) Object.assign(held, { db: peakDb, at: performance.now() });
  const state = kind === 'trace' ? (readings + passed).toFixed(1) : `${peakDb.toFixed(1)} ${held.db.toFixed(1)}`;
  if (state === painted.drawn) return false;
  painted.drawn = state;
  if (kind === 'trace') drawTrace(context, look, board, readings, passed);
  else drawLevel(context, look, peakDb, held.db);
  return true;
}
