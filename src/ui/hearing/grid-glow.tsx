'use client';

import { useEffect, useRef } from 'react';
import { compiledGain } from '@/core/hearing/compile';
import type { Listener, Source } from '@/core/hearing/plan';
import { calmMotion } from '@/live/paint/calm-motion';
import { cssColour } from '../canvas';
import { useFrame } from '../frame';
import { useDesk } from '../shell/desk-context';
import type { GridSizes } from './grid-sizes';

/** Steps of brightness; a place is drawn again only when its step changes. */
const STEPS = 8;

interface GridGlowProps {
  sources: Source[];
  listeners: Listener[];
  cell: GridSizes;
}

/** Light around the lamps from the sound that really passes, all places in one canvas. */
export function GridGlow({ sources, listeners, cell }: GridGlowProps) {
  const desk = useDesk();
  const canvas = useRef<HTMLCanvasElement>(null);
  const shown = useRef<Uint8Array>(new Uint8Array(0));
  // One picture for each step of brightness: copying is several times faster than drawing light anew.
  const sprites = useRef<{ look: string; steps: HTMLCanvasElement[] }>({ look: '', steps: [] });
  const drawn = useRef(-1);
  const width = listeners.length * cell.width;
  const height = sources.length * cell.height;

  // A canvas that changes its size is blank: everything is drawn again.
  useEffect(() => {
    shown.current = new Uint8Array(0);
    drawn.current = -1;
  }, [width, height]);

  useFrame(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !canvas.current) return;
    if (calmMotion().matches) return;
    const board = desk.board();
    const readings = board ? Atomics.load(board.readings, 0) : 0;
    if (readings === drawn.current) return;
    drawn.current = readings;
    if (shown.current.length !== sources.length * listeners.length) shown.current = new Uint8Array(sources.length * listeners.length);
    const compiled = desk.plan.compiled();
    const colour = cssColour(canvas.current, '--chakra-colors-lamp');
    const look = `${colour} ${cell.width} ${cell.height}`;
    if (sprites.current.look !== look) sprites.current = { look, steps: glowSprites(cell, colour) };
    for (let row = 0; row < sources.length; row++) {
      const level = board?.sourceRms[compiled.sourceIds.indexOf(sources[row].id)] ?? 0;
      for (let column = 0; column < listeners.length; column++) {
        const passing = level === 0 ? 0 : level * compiledGain(compiled, sources[row].id, listeners[column].id);
        // From −48 dBFS, where nothing shows, to −12, where the light is full.
        const share = passing === 0 ? 0 : Math.min(1, Math.max(0, (20 * Math.log10(passing) + 48) / 36));
        const step = Math.round(share * STEPS);
        const place = row * listeners.length + column;
        if (shown.current[place] === step) continue;
        shown.current[place] = step;
        const [left, top] = [column * cell.width, row * cell.height];
        context.clearRect(left, top, cell.width, cell.height);
        if (step > 0) context.drawImage(sprites.current.steps[step], left, top);
      }
    }
  });

  return (
    <canvas
      ref={canvas}
      width={width}
      height={height}
      aria-hidden
      style={{ position: 'absolute', left: cell.side, top: cell.head, maxWidth: 'none', pointerEvents: 'none' }}
    />
  );
}

/** The light of a place at every step of brightness, from none to full. */
function glowSprites(cell: GridSizes, colour: string): HTMLCanvasElement[] {
  const x = cell.width / 2;
  const y = cell.height * (cell.bare ? 0.5 : 0.38);
  const radius = Math.min(cell.width, cell.height) * 0.5;
  return Array.from({ length: STEPS + 1 }, (_, step) => {
    const sprite = Object.assign(document.createElement('canvas'), { width: cell.width, height: cell.height });
    const context = sprite.getContext('2d');
    if (!context) return sprite;
    const light = context.createRadialGradient(x, y, radius * 0.2, x, y, radius);
    light.addColorStop(0, colour);
    light.addColorStop(1, 'transparent');
    context.globalAlpha = (0.75 * step) / STEPS;
    context.fillStyle = light;
    context.fillRect(0, 0, cell.width, cell.height);
    return sprite;
  });
}
