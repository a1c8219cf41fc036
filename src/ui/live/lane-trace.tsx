'use client';

import { chakra } from '@chakra-ui/react';
import { useRef } from 'react';
import { TRACE_COLUMNS } from '@/live/worklet/status-board';
import { useFrame } from '../frame';
import { useDesk } from '../shell/desk-context';
import { cssColour, useSize } from '../canvas';

const Canvas = chakra('canvas');

/** Pixels a column takes: a bar of two and a gap of one. */
const COLUMN_PX = 3;
/** Levels below this are drawn as the resting line. */
const FLOOR_DB = -54;

/** The colours of the theme in force. */
function readColours(element: Element) {
  return {
    voice: cssColour(element, '--trace'),
    hot: cssColour(element, '--trace-hot'),
    rest: cssColour(element, '--trace-rest'),
    edge: cssColour(element, '--trace-edge'),
  };
}

/** What a source says, moving left: the newest sound is at the red edge on the right. */
export function LaneTrace({ slot }: { slot: number }) {
  const desk = useDesk();
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = useSize(canvas);
  const drawn = useRef(-1);
  useFrame(() => {
    const element = canvas.current;
    if (!element) return;
    const board = desk.board();
    const readings = board ? Atomics.load(board.readings, 0) : 0;
    const width = size.current.width * devicePixelRatio;
    const height = size.current.height * devicePixelRatio;
    if (element.width === width && element.height === height && drawn.current === readings) return;
    if (element.width !== width || element.height !== height) Object.assign(element, { width, height });
    drawn.current = readings;
    const context = element.getContext('2d');
    if (!context) return;
    context.clearRect(0, 0, width, height);
    const colours = readColours(element);
    const step = COLUMN_PX * devicePixelRatio;
    const columns = Math.min(TRACE_COLUMNS - 1, Math.floor(width / step));
    const middle = height / 2;
    context.fillStyle = colours.rest;
    context.fillRect(0, middle - 0.5, width, 1);
    for (let back = 0; back < columns && back < readings; back++) {
      const column = (readings - 1 - back) % TRACE_COLUMNS;
      const peak = board ? board.trace[slot * TRACE_COLUMNS + column] : 0;
      const share = Math.max(0, 1 + (20 * Math.log10(peak)) / -FLOOR_DB);
      if (share <= 0) continue;
      const half = Math.max(1, share * middle * 0.94);
      context.globalAlpha = 1 - 0.75 * (back / columns);
      context.fillStyle = peak > 0.89 ? colours.hot : colours.voice;
      context.fillRect(width - (back + 1) * step - 2, middle - half, step * 0.62, half * 2);
    }
    context.globalAlpha = 1;
    context.fillStyle = colours.edge;
    context.fillRect(width - 1.5, 0, 1.5, height);
  });
  return (
    <Canvas
      ref={canvas}
      aria-hidden
      w="100%"
      h="calc(100% - 20px)"
      css={{
        '--trace': 'colors.lamp',
        '--trace-hot': 'colors.ember',
        '--trace-rest': 'colors.hairline',
        '--trace-edge': 'colors.faint',
      }}
    />
  );
}
