/** What is drawn: a voice's last seconds moving left, or its level on a scale. */
export type PaintKind = 'trace' | 'level';

/** How it looks: sizes in the canvas's own pixels, colours as canvases take them. */
export interface Look {
  slot: number;
  width: number;
  height: number;
  /** Pixels of the canvas for one of the page. */
  ratio: number;
  colours: Record<string, string>;
  /** Whether the scale has its marks. */
  marked: boolean;
}

export type ToPainter =
  /** The audio thread's readings; null while no call runs. */
  | { type: 'board'; board: { status: SharedArrayBuffer; sources: number; listeners: number } | null }
  /** Whether little is to move. */
  | { type: 'calm'; calm: boolean }
  | { type: 'canvas'; id: number; kind: PaintKind; canvas: OffscreenCanvas }
  | { type: 'look'; id: number; look: Look }
  | { type: 'gone'; id: number };
