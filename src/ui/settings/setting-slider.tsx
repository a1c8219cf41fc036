'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useRef, useState } from 'react';
import { LevelSlider } from '../shell/level-slider';

interface SettingSliderProps {
  label: string;
  /** Beside the slider; the label where it is not given. */
  words?: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  unit: string;
  /** How the number is written. */
  show(value: number): string;
  /** Once it is let go. */
  onSet(value: number): void;
}

/** A number that is set by sliding: it moves at once, and is kept when it is let go. */
export function SettingSlider({ label, words = label, value, show, onSet, ...range }: SettingSliderProps) {
  const [dragged, setDragged] = useState<number | null>(null);
  // A key moves and lets go before anything is drawn again.
  const last = useRef<number | null>(null);
  const move = (next: number): void => {
    last.current = next;
    setDragged(next);
  };
  const letGo = (): void => {
    if (last.current !== null) onSet(last.current);
    last.current = null;
    setDragged(null);
  };
  return (
    <Flex align="center" gap="10px" py="3px">
      <Text fontSize="13.5px" w="132px" flex="none" lineHeight="1.2">
        {words}
      </Text>
      <Box flex="1">
        <LevelSlider label={label} value={dragged ?? value} {...range} onChange={move} onChangeEnd={letGo} />
      </Box>
      <Text fontSize="12.5px" color="soft" minW="58px" textAlign="right" whiteSpace="nowrap">
        {show(dragged ?? value)}
      </Text>
    </Flex>
  );
}
