'use client';

import { Box, chakra } from '@chakra-ui/react';
import { useEffect, useRef, type ComponentProps } from 'react';
import type { PaintKind } from '@/live/paint/paint-messages';
import { painter } from '@/live/paint/painter';
import { useDesk, useDeskState } from '../shell/desk-context';

const Canvas = chakra('canvas');
/** What each is drawn with, by the names of the theme's variables beside it. */
const COLOURS = ['voice', 'hot', 'rest', 'edge', 'ground', 'well', 'faint', 'text'] as const;
const VARIABLES = {
  '--paint-voice': 'colors.lamp',
  '--paint-hot': 'colors.ember',
  '--paint-rest': 'colors.hairline',
  '--paint-edge': 'colors.faint',
  '--paint-ground': 'colors.ground',
  '--paint-well': 'colors.well',
  '--paint-faint': 'colors.faint',
  '--paint-text': 'colors.text',
} as const;

type PaintedProps = { kind: PaintKind; slot: number; marked?: boolean } & Pick<ComponentProps<typeof Box>, 'w' | 'h'>;

/** A canvas that the painter draws: its size and colours follow the page, what it shows follows the sound. */
export function Painted({ kind, slot, marked = false, ...size }: PaintedProps) {
  const desk = useDesk();
  const call = useDeskState((state) => state.call);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => painter().show(desk.board()), [desk, call]);
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const id = painter().add(element, kind);
    const look = (): void => {
      const style = getComputedStyle(element);
      const colours = Object.fromEntries(COLOURS.map((name) => [name, style.getPropertyValue(`--paint-${name}`)]));
      const ratio = devicePixelRatio;
      painter().look(id, { slot, marked, ratio, colours, width: Math.round(element.clientWidth * ratio), height: Math.round(element.clientHeight * ratio) });
    };
    const sizes = new ResizeObserver(look);
    sizes.observe(element);
    const theme = new MutationObserver(look);
    theme.observe(document.documentElement, { attributes: true, attributeFilter: ['class'] });
    return () => {
      sizes.disconnect();
      theme.disconnect();
      painter().remove(id);
    };
  }, [kind, slot, marked]);
  // Laid over its box: a canvas has a shape of its own, and would make a wide lane as high as that until it was drawn small.
  return (
    <Box position="relative" {...size}>
      <Canvas ref={canvas} aria-hidden position="absolute" inset="0" w="100%" h="100%" css={VARIABLES} />
    </Box>
  );
}
