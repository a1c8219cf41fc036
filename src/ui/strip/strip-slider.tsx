import { Box, Flex, Text } from '@chakra-ui/react';
import { LevelSlider } from '../shell/level-slider';

interface StripSliderProps {
  /** Shown over the slider, and with `of` what a screen reader says. */
  name: string;
  of: string;
  value: number;
  range: readonly [least: number, most: number];
  step?: number;
  /** The same way for every octave: for frequencies and times. */
  logarithmic?: boolean;
  inWords(value: number): string;
  onChange(value: number): void;
}

/** Steps of a logarithmic slider in an octave. */
const STEPS_AN_OCTAVE = 12;

/** One number of a strip with its unit. */
export function StripSlider({ name, of, value, range: [least, most], step = 0.5, logarithmic = false, inWords, onChange }: StripSliderProps) {
  const place = (one: number): number => (logarithmic ? Math.log2(one) : one);
  const valueAt = (at: number): number => (logarithmic ? rounded(Math.min(most, Math.max(least, 2 ** at))) : at);
  return (
    <Box minW="0">
      <Flex justify="space-between" fontSize="13px" mb="2px" gap="8px">
        <Text color="soft" truncate>
          {name}
        </Text>
        <Text whiteSpace="nowrap">{inWords(value)}</Text>
      </Flex>
      <LevelSlider
        label={`${name}, ${of}`}
        value={place(value)}
        min={place(least)}
        max={place(most)}
        step={logarithmic ? 1 / STEPS_AN_OCTAVE : step}
        inWords={(at) => inWords(valueAt(at))}
        onChange={(at) => onChange(valueAt(at))}
      />
    </Box>
  );
}

/** To two digits and a half: 83 Hz, 1250 Hz. */
function rounded(value: number): number {
  const digit = 10 ** Math.max(0, Math.floor(Math.log10(value)) - 1);
  return Math.round((2 * value) / digit) / 2 * digit;
}
