import type { StatusBoard } from '../worklet/status-board';
import { calmMotion } from './calm-motion';
import type { Look, PaintKind, ToPainter } from './paint-messages';

/**
 * Draws everything that moves on the desk, in a thread of its own: the page's is left to hands, and meters move while it is
 * busy. It reads the audio thread's board itself.
 */
class Painter {
  readonly #worker = new Worker(new URL('./painter.worker.ts', import.meta.url), { type: 'module' });
  readonly #ids = new WeakMap<HTMLCanvasElement, number>();
  readonly #leaving = new Map<number, ReturnType<typeof setTimeout>>();
  #board: StatusBoard | null = null;
  #count = 0;

  constructor() {
    const calm = calmMotion();
    const tell = (): void => this.#tell({ type: 'calm', calm: calm.matches });
    calm.addEventListener('change', tell);
    tell();
  }

  show(board: StatusBoard | null): void {
    if (board === this.#board) return;
    this.#board = board;
    this.#tell({ type: 'board', board: board && { status: board.memory, sources: board.sourcePeak.length, listeners: board.listenerPeak.length } });
  }

  /** Takes a canvas over, once. */
  add(canvas: HTMLCanvasElement, kind: PaintKind): number {
    const known = this.#ids.get(canvas);
    if (known !== undefined) {
      clearTimeout(this.#leaving.get(known));
      return known;
    }
    const id = ++this.#count;
    this.#ids.set(canvas, id);
    const offscreen = canvas.transferControlToOffscreen();
    this.#tell({ type: 'canvas', id, kind, canvas: offscreen }, [offscreen]);
    return id;
  }

  look(id: number, look: Look): void {
    this.#tell({ type: 'look', id, look });
  }

  /** It is on no screen any more, unless it is back in a moment. */
  remove(id: number): void {
    this.#leaving.set(id, setTimeout(() => this.#tell({ type: 'gone', id }), 100));
  }

  #tell(message: ToPainter, transfer: Transferable[] = []): void {
    this.#worker.postMessage(message, transfer);
  }
}

let one: Painter | null = null;
export const painter = (): Painter => (one ??= new Painter());
