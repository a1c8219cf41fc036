'use client';

import { Box, chakra } from '@chakra-ui/react';
import { useEffect, useRef, type PointerEvent } from 'react';
import type { SoundEdit } from '@/core/sounds/sound-edit';
import type { SoundPreview } from '@/live/sounds/sound-preview';
import { cssColour, useWidth } from '../canvas';
import { useFrame } from '../frame';
import { placeOf, POINT_WORDS, POINTS, type Point } from './edit-points';

const Canvas = chakra('canvas');
const HEIGHT = 300;
/** A press this near to a point takes hold of it, pixels. */
const GRAB = 10;

/** What is seen of a sound, samples. */
export interface View {
  from: number;
  to: number;
}

interface EditWaveProps {
  channels: Float32Array[] | null;
  edit: SoundEdit;
  view: View;
  preview: SoundPreview;
  onView(view: View): void;
  onMove(point: Point, at: number): void;
  onStopped(): void;
}

/** The sound from its samples, with the points of its edit to drag, and where it plays. The wheel zooms. */
export function EditWave({ channels, edit, view, preview, onView, onMove, onStopped }: EditWaveProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const needle = useRef<HTMLDivElement>(null);
  const held = useRef<Point | null>(null);
  const wasPlaying = useRef(false);
  const width = useWidth(canvas);
  const span = view.to - view.from;

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context || width === 0) return;
    element.width = width * devicePixelRatio;
    element.height = HEIGHT * devicePixelRatio;
    if (channels) draw(context, channels, edit, view);
  }, [channels, edit, view, width]);

  useEffect(() => {
    const element = canvas.current;
    if (!element || !channels) return;
    // React listens passively: the page would scroll as well.
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const share = event.offsetX / element.clientWidth;
      const at = view.from + share * span;
      const next = Math.max(480, Math.min(channels[0].length, span * (event.deltaY > 0 ? 1.25 : 0.8)));
      const from = Math.max(0, Math.min(channels[0].length - next, at - share * next));
      onView({ from: Math.round(from), to: Math.round(from + next) });
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [channels, view, span, onView]);

  useFrame(() => {
    const position = preview.position();
    if (wasPlaying.current && position < 0) onStopped();
    wasPlaying.current = position >= 0;
    if (!needle.current) return;
    const there = position >= view.from && position <= view.to;
    needle.current.style.display = there ? 'block' : 'none';
    if (there) needle.current.style.left = `${(100 * (position - view.from)) / span}%`;
  });

  const sampleAt = (event: PointerEvent) => {
    const box = canvas.current!.getBoundingClientRect();
    return view.from + ((event.clientX - box.left) / box.width) * span;
  };
  const grab = (event: PointerEvent) => {
    const at = sampleAt(event);
    const reach = (GRAB / width) * span;
    const near = POINTS.map((point) => ({ point, away: Math.abs((placeOf(edit, point) ?? Infinity) - at) })).sort((a, b) => a.away - b.away)[0];
    if (near.away > reach) return;
    held.current = near.point;
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  return (
    <Box position="relative" h={`${HEIGHT}px`} bg="ground" borderRadius="control" overflow="hidden" onPointerDown={grab}
      onPointerMove={(event) => held.current && onMove(held.current, sampleAt(event))}
      onPointerUp={() => (held.current = null)}
    >
      <Canvas ref={canvas} role="img" aria-label="The sound, with the points of its edit" w="100%" h="100%" css={{ '--wave': 'colors.lamp', '--wave-rest': 'colors.faint', '--wave-fade': 'colors.tide', '--wave-text': 'colors.text' }} />
      <Box ref={needle} display="none" position="absolute" insetY="0" w="2px" bg="text" pointerEvents="none" />
    </Box>
  );
}

function draw(context: CanvasRenderingContext2D, channels: Float32Array[], edit: SoundEdit, view: View): void {
  const { width, height } = context.canvas;
  const colour = (name: string) => cssColour(context.canvas, name);
  const middle = height / 2;
  const perPixel = (view.to - view.from) / width;
  const x = (sample: number) => (sample - view.from) / perPixel;
  for (let column = 0; column < width; column++) {
    const from = Math.floor(view.from + column * perPixel);
    const to = Math.max(from + 1, Math.floor(view.from + (column + 1) * perPixel));
    // Far out, some samples of each column are enough.
    const stride = Math.max(1, Math.floor((to - from) / 400));
    let [low, high] = [0, 0];
    for (const samples of channels) {
      for (let i = from; i < to && i < samples.length; i += stride) {
        if (samples[i] < low) low = samples[i];
        if (samples[i] > high) high = samples[i];
      }
    }
    context.fillStyle = colour(from >= edit.inSample && from < edit.outSample ? '--wave' : '--wave-rest');
    context.fillRect(column, middle - high * middle, 1, Math.max(1, (high - low) * middle));
  }
  drawFades(context, edit, x, colour('--wave-fade'));
  context.fillStyle = colour('--wave-text');
  context.font = `${12 * devicePixelRatio}px sans-serif`;
  POINTS.forEach((point, place) => {
    const at = placeOf(edit, point);
    if (at === null) return;
    context.fillRect(x(at) - 1, 0, 2, height);
    const right = x(at) > width - 120 * devicePixelRatio;
    context.textAlign = right ? 'right' : 'left';
    context.fillText(POINT_WORDS[point].split(' ').slice(0, 2).join(' '), x(at) + (right ? -6 : 6), (14 + (place % 3) * 15) * devicePixelRatio);
  });
}

function drawFades(context: CanvasRenderingContext2D, edit: SoundEdit, x: (sample: number) => number, colour: string): void {
  const { height } = context.canvas;
  context.strokeStyle = colour;
  context.lineWidth = 2;
  const curve = (from: number, to: number, gain: (share: number) => number) => {
    if (to <= from) return;
    context.beginPath();
    for (let k = 0; k <= 40; k++) context.lineTo(x(from + ((to - from) * k) / 40), height * (1 - gain(k / 40)));
    context.stroke();
  };
  curve(edit.inSample, edit.inSample + edit.fadeInSamples, (share) => Math.sin((Math.PI / 2) * share));
  curve(edit.outSample - edit.fadeOutSamples, edit.outSample, (share) => Math.cos((Math.PI / 2) * share));
}
