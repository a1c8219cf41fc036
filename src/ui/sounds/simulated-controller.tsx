'use client';

import { Box, Flex, Grid, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { MidiMessage } from '@/core/session/midi-bindings';
import { ControlButton } from '../shell/control-button';
import { LevelSlider } from '../shell/level-slider';

const FIRST_NOTE = 36;
const NOTES = 8;
const CONTROLLERS = [20, 21];
const MIDDLE = 100;

/** A small made-up controller, to learn and to rehearse with: it sends what a real one would. */
export function SimulatedController({ onMessage }: { onMessage(message: MidiMessage): void }) {
  const note = (number: number, value: number) => onMessage({ message: 'note', channel: 1, number, value });
  return (
    <Box role="group" aria-label="Practice controller" borderWidth="1px" borderColor="hairline" borderRadius="control" p="8px" my="6px">
      <Grid templateColumns="repeat(4, 1fr)" gap="6px">
        {Array.from({ length: NOTES }, (_, k) => FIRST_NOTE + k).map((number) => (
          <ControlButton
            key={number}
            h="34px"
            px="0"
            aria-label={`Note ${number}`}
            onPointerDown={() => note(number, 110)}
            onPointerUp={() => note(number, 0)}
            onKeyDown={(event) => {
              if ((event.key === 'Enter' || event.key === ' ') && !event.repeat) note(number, 110);
            }}
            onKeyUp={(event) => {
              if (event.key === 'Enter' || event.key === ' ') note(number, 0);
            }}
          >
            {number}
          </ControlButton>
        ))}
      </Grid>
      {CONTROLLERS.map((number) => (
        <Knob key={number} number={number} onChange={(value) => onMessage({ message: 'controller', channel: 1, number, value })} />
      ))}
    </Box>
  );
}

function Knob({ number, onChange }: { number: number; onChange(value: number): void }) {
  const [value, setValue] = useState(MIDDLE);
  return (
    <Flex align="center" gap="8px" mt="6px">
      <Text fontSize="12.5px" w="24px">
        {number}
      </Text>
      <Box flex="1">
        <LevelSlider
          label={`Controller ${number}`}
          value={value}
          min={0}
          max={127}
          step={1}
          unit=""
          onChange={(next) => {
            setValue(next);
            onChange(next);
          }}
        />
      </Box>
      <Text fontSize="12.5px" color="soft" minW="28px" textAlign="right">
        {value}
      </Text>
    </Flex>
  );
}
