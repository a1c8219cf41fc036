'use client';

import { Box, chakra } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';
import type { TakeData, TakeTrack } from '@/core/session/take-data';
import type { TakePlayer } from '@/live/takes/take-player';
import { useFrame } from '../frame';
import { cssColour, useWidth } from '../canvas';

const Canvas = chakra('canvas');
const COLUMNS = 2000;

interface TrackWaveProps {
  take: TakeData;
  track: TakeTrack;
  player: TakePlayer;
  dimmed: boolean;
}

/** The outline of a track from its real samples, with gaps and the playing position. Click to go there. */
export function TrackWave({ take, track, player, dimmed }: TrackWaveProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const needle = useRef<HTMLDivElement>(null);
  const [peaks, setPeaks] = useState<Int16Array | null>(null);
  const width = useWidth(canvas);

  useEffect(() => {
    const abort = new AbortController();
    fetch(`/api/takes/${take.id}/tracks/${track.id}/peaks?columns=${COLUMNS}`, { signal: abort.signal })
      .then(async (response) => {
        if (response.ok) setPeaks(new Int16Array(await response.arrayBuffer()));
      })
      .catch((error: Error) => {
        if (error.name !== 'AbortError') setPeaks(new Int16Array(0));
      });
    return () => abort.abort();
  }, [take.id, track.id]);

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context || !peaks || width === 0) return;
    element.width = width * devicePixelRatio;
    element.height = element.clientHeight * devicePixelRatio;
    draw(context, peaks, take, track);
  }, [peaks, width, take, track]);

  useFrame(() => {
    if (needle.current) needle.current.style.left = `${(100 * player.position()) / take.lengthSamples}%`;
  });

  const goTo = (clientX: number) => {
    const box = canvas.current?.getBoundingClientRect();
    if (box) player.seek(((clientX - box.left) / box.width) * take.lengthSamples);
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

function draw(context: CanvasRenderingContext2D, peaks: Int16Array, take: TakeData, track: TakeTrack): void {
  const { width, height } = context.canvas;
  const middle = height / 2;
  const columns = peaks.length / 2;
  context.fillStyle = cssColour(context.canvas, '--wave-rest');
  context.fillRect(0, middle - 0.5, width, 1);
  context.fillStyle = cssColour(context.canvas, '--wave');
  for (let x = 0; x < width; x++) {
    const from = Math.floor((x * columns) / width);
    const to = Math.max(from + 1, Math.floor(((x + 1) * columns) / width));
    let low = 0;
    let high = 0;
    for (let column = from; column < to && column < columns; column++) {
      low = Math.min(low, peaks[2 * column]);
      high = Math.max(high, peaks[2 * column + 1]);
    }
    if (high === 0 && low === 0) continue;
    const top = middle - (high / 32768) * middle;
    context.fillRect(x, top, 1, Math.max(1, ((high - low) / 32768) * middle));
  }
  context.fillStyle = cssColour(context.canvas, '--wave-mark');
  for (const { atSample, lengthSamples } of take.markers) {
    context.fillRect((atSample / take.lengthSamples) * width, 0, Math.max(2, (lengthSamples / take.lengthSamples) * width), lengthSamples > 0 ? 4 : height);
  }
  context.fillStyle = cssColour(context.canvas, '--wave-gap');
  for (const gap of take.gaps.filter((one) => one.track === track.id)) {
    const x = (gap.atSample / take.lengthSamples) * width;
    context.fillRect(x, height - 4, Math.max(2, (gap.lengthSamples / take.lengthSamples) * width), 4);
  }
}
