'use client';

import { Box, chakra } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';
import { useStore, type StoreApi } from 'zustand';
import type { TakeData, TakeTrack } from '@/core/session/take-data';
import { loadOutline, type Outline } from '@/live/takes/outline';
import type { TakePlayer } from '@/live/takes/take-player';
import { cssColour, useWidth } from '../canvas';
import { useFrame } from '../frame';
import { shareOf, type View } from './view';

const Canvas = chakra('canvas');
/** A look that changes is loaded when it has rested this long. */
const REST_MS = 90;

interface TrackWaveProps {
  take: TakeData;
  track: TakeTrack;
  player: TakePlayer;
  view: StoreApi<View>;
  dimmed: boolean;
}

/** The outline of a track from its real samples, with gaps, marks and the playing position. Click to go there. */
export function TrackWave({ take, track, player, view: looks, dimmed }: TrackWaveProps) {
  const view = useStore(looks);
  const canvas = useRef<HTMLCanvasElement>(null);
  const needle = useRef<HTMLDivElement>(null);
  const [outline, setOutline] = useState<Outline | null>(null);
  const width = useWidth(canvas);

  useEffect(() => {
    if (width === 0) return;
    const abort = new AbortController();
    const timer = setTimeout(() => {
      loadOutline(take, track, view, Math.round(width), abort.signal).then(setOutline, (error: Error) => {
        if (error.name !== 'AbortError') setOutline({ ...view, columns: new Int16Array(0) });
      });
    }, REST_MS);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [take, track, view, width]);

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context || width === 0) return;
    element.width = width * devicePixelRatio;
    element.height = element.clientHeight * devicePixelRatio;
    draw(context, outline, view, take, track);
  }, [outline, view, width, take, track]);

  useFrame(() => {
    if (!needle.current) return;
    const share = shareOf(view, player.position());
    needle.current.style.display = share < 0 || share > 1 ? 'none' : 'block';
    needle.current.style.left = `${100 * share}%`;
  });

  const goTo = (clientX: number) => {
    const box = canvas.current?.getBoundingClientRect();
    if (box) player.seek(view.from + ((clientX - box.left) / box.width) * (view.to - view.from));
  };
  return (
    <Box position="relative" h="62px" cursor="pointer" onClick={(event) => goTo(event.clientX)}>
      <Canvas
        ref={canvas}
        aria-hidden
        w="100%"
        h="100%"
        opacity={dimmed ? 0.35 : 1}
        css={{ '--wave': 'colors.lamp', '--wave-rest': 'colors.hairline', '--wave-gap': 'colors.ember', '--wave-mark': 'colors.tide' }}
      />
      <Box ref={needle} position="absolute" insetY="0" left="0" w="2px" bg="text" pointerEvents="none" />
    </Box>
  );
}

function draw(context: CanvasRenderingContext2D, outline: Outline | null, view: View, take: TakeData, track: TakeTrack): void {
  const { width, height } = context.canvas;
  const colour = (name: string) => cssColour(context.canvas, name);
  const middle = height / 2;
  const xOf = (sample: number) => shareOf(view, sample) * width;
  context.fillStyle = colour('--wave-rest');
  context.fillRect(0, middle - 0.5, width, 1);
  context.fillStyle = colour('--wave');
  if (outline) {
    const columns = outline.columns.length / 2;
    const perColumn = (outline.to - outline.from) / Math.max(1, columns);
    // An outline of another look is drawn where it belongs until the right one is there.
    const samplesPerPixel = (view.to - view.from) / width;
    for (let x = 0; x < width; x++) {
      const sample = view.from + x * samplesPerPixel;
      const first = Math.floor((sample - outline.from) / perColumn);
      const last = Math.max(first + 1, Math.floor((sample + samplesPerPixel - outline.from) / perColumn));
      let low = 0;
      let high = 0;
      for (let column = Math.max(0, first); column < Math.min(columns, last); column++) {
        low = Math.min(low, outline.columns[2 * column]);
        high = Math.max(high, outline.columns[2 * column + 1]);
      }
      if (high === 0 && low === 0) continue;
      const top = middle - (high / 32768) * middle;
      context.fillRect(x, top, 1, Math.max(1, ((high - low) / 32768) * middle));
    }
  }
  context.fillStyle = colour('--wave-mark');
  for (const { atSample, lengthSamples } of take.markers) context.fillRect(xOf(atSample), 0, Math.max(1.5, xOf(atSample + lengthSamples) - xOf(atSample)), lengthSamples > 0 ? 3 : height);
  context.fillStyle = colour('--wave-gap');
  for (const gap of take.gaps.filter((one) => one.track === track.id)) {
    context.fillRect(xOf(gap.atSample), height - 4, Math.max(2, xOf(gap.atSample + gap.lengthSamples) - xOf(gap.atSample)), 4);
  }
}
