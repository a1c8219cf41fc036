import { useRef, type RefObject } from 'react';
import { useFrame } from '../frame';
import { setStyle } from '../set-style';
import { useDesk } from '../shell/desk-context';
import { HELD_MS, HOT_DBFS, levelShare } from './level-scale';

export interface PeakBar {
  bar: RefObject<HTMLDivElement | null>;
  tick: RefObject<HTMLDivElement | null>;
  /** The highest peak of the last moments, dBFS. */
  held: RefObject<{ db: number; at: number }>;
}

/** A source's peak as a bar that moves, and a tick that stays for a while where it was highest. */
export function usePeakBar(slot: number): PeakBar {
  const desk = useDesk();
  const bar = useRef<HTMLDivElement>(null);
  const tick = useRef<HTMLDivElement>(null);
  const held = useRef({ db: -Infinity, at: 0 });
  useFrame(() => {
    if (!bar.current || !tick.current) return;
    const board = desk.board();
    const peakDb = board ? 20 * Math.log10(board.sourcePeak[slot]) : -Infinity;
    const hold = held.current;
    if (peakDb >= hold.db || performance.now() - hold.at > HELD_MS) Object.assign(hold, { db: peakDb, at: performance.now() });
    setStyle(bar.current, 'transform', `scaleX(${levelShare(peakDb).toFixed(3)})`);
    setStyle(bar.current, 'background', `var(--level-${hold.db > HOT_DBFS ? 'hot' : 'well'})`);
    setStyle(tick.current, 'transform', `translateX(${(100 * levelShare(hold.db)).toFixed(1)}%)`);
    setStyle(tick.current, 'opacity', Number.isFinite(hold.db) ? '1' : '0');
  });
  return { bar, tick, held };
}
