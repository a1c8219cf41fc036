'use client';

import { Flex, Input, Text } from '@chakra-ui/react';
import { useState, type KeyboardEvent } from 'react';
import { wholeSound, type SoundEdit } from '@/core/sounds/sound-edit';
import { ControlButton } from '../shell/control-button';

const RATE = 48000;

/** The places of an edit on the sound's time axis. */
export const POINTS = ['in', 'fadeIn', 'loopFrom', 'loopTo', 'fadeOut', 'out'] as const;
export type Point = (typeof POINTS)[number];

export const POINT_WORDS: Record<Point, string> = {
  in: 'Begins at',
  fadeIn: 'Fades in until',
  loopFrom: 'Loop from',
  loopTo: 'Loop to',
  fadeOut: 'Fades out from',
  out: 'Ends at',
};

/** Where a point lies, samples; null for one that is not there. */
export function placeOf(edit: SoundEdit, point: Point): number | null {
  switch (point) {
    case 'in':
      return edit.inSample;
    case 'out':
      return edit.outSample;
    case 'fadeIn':
      return edit.inSample + edit.fadeInSamples;
    case 'fadeOut':
      return edit.outSample - edit.fadeOutSamples;
    case 'loopFrom':
      return edit.loop?.from ?? null;
    case 'loopTo':
      return edit.loop?.to ?? null;
  }
}

/** The edit with one point elsewhere; fades keep their length when what they hang on moves. */
export function withPoint(edit: SoundEdit, point: Point, at: number): SoundEdit {
  switch (point) {
    case 'in':
      return { ...edit, inSample: at };
    case 'out':
      return { ...edit, outSample: at };
    case 'fadeIn':
      return { ...edit, fadeInSamples: at - edit.inSample };
    case 'fadeOut':
      return { ...edit, fadeOutSamples: edit.outSample - at };
    case 'loopFrom':
      return { ...edit, loop: { from: at, to: edit.loop?.to ?? edit.outSample } };
    case 'loopTo':
      return { ...edit, loop: { from: edit.loop?.from ?? edit.inSample, to: at } };
  }
}

interface EditPointsProps {
  edit: SoundEdit;
  lengthSamples: number;
  onMove(point: Point, at: number): void;
  onChange(edit: SoundEdit): void;
}

/** Every point as a number of seconds: typed, or nudged with the arrow keys. */
export function EditPoints({ edit, lengthSamples, onMove, onChange }: EditPointsProps) {
  return (
    <Flex gap="12px" align="end" wrap="wrap">
      {POINTS.map((point) => {
        const at = placeOf(edit, point);
        return at === null ? null : <PointField key={`${point}-${at}`} label={POINT_WORDS[point]} at={at} onMove={(next) => onMove(point, next)} />;
      })}
      {edit.loop ? (
        <ControlButton onClick={() => onChange({ ...edit, loop: null })}>No loop points</ControlButton>
      ) : (
        <ControlButton onClick={() => onChange({ ...edit, loop: { from: edit.inSample, to: edit.outSample } })}>Set loop points</ControlButton>
      )}
      <ControlButton onClick={() => onChange(wholeSound(lengthSamples))}>Undo all edits</ControlButton>
    </Flex>
  );
}

/** An arrow moves by 10 ms, with Shift by a whole second, with Alt by one sample. */
const stepOf = ({ shiftKey, altKey }: KeyboardEvent) => (altKey ? 1 : shiftKey ? RATE : RATE / 100);

function PointField({ label, at, onMove }: { label: string; at: number; onMove(at: number): void }) {
  const [typed, setTyped] = useState((at / RATE).toFixed(3));
  const take = () => {
    const seconds = Number(typed.replace(',', '.'));
    if (Number.isFinite(seconds) && typed.trim() !== '') onMove(seconds * RATE);
    // Where it could not go, the place it has is shown again.
    setTyped((at / RATE).toFixed(3));
  };
  return (
    <label>
      <Text fontSize="12.5px" color="soft">
        {label}, s
      </Text>
      <Input
        size="sm"
        w="104px"
        inputMode="decimal"
        value={typed}
        borderColor="hairline"
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => typed !== (at / RATE).toFixed(3) && take()}
        onKeyDown={(event) => {
          if (event.key === 'Enter') take();
          if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
          event.preventDefault();
          onMove(at + (event.key === 'ArrowUp' ? 1 : -1) * stepOf(event));
        }}
      />
    </label>
  );
}
