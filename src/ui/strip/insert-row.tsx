'use client';

import { Box, Flex, Switch, Text } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import type { InsertName } from '@/core/strip/settings';
import { INSERT_WORDS } from './words';
import { ReductionMeter } from './reduction-meter';

interface InsertRowProps {
  insert: InsertName;
  on: boolean;
  slot: number;
  /** Said in place of what it does: why it was set so, or why it cannot be had. */
  note?: string;
  disabled?: boolean;
  onSwitch(on: boolean): void;
  children: ReactNode;
}

/** One insert: on or off, what it does, and its numbers while it is on. */
export function InsertRow({ insert, on, slot, note, disabled = false, onSwitch, children }: InsertRowProps) {
  const { name, does } = INSERT_WORDS[insert];
  return (
    <Box as="section" aria-label={name} borderTopWidth="1px" borderColor="hairline" py="9px">
      <Flex align="center" gap="12px">
        <Switch.Root size="md" checked={on} disabled={disabled} onCheckedChange={({ checked }) => onSwitch(checked)}>
          <Switch.HiddenInput />
          <Switch.Control bg={on ? 'lamp' : 'faint'} />
          <Switch.Label fontFamily="heading" fontWeight="700" fontSize="15.5px" w="160px">
            {name}
          </Switch.Label>
        </Switch.Root>
        <Text flex="1" fontSize="13.5px" color={note ? 'text' : 'soft'} lineHeight="1.3">
          {note ?? does}
        </Text>
        {on && <ReductionMeter insert={insert} slot={slot} />}
      </Flex>
      {on && children && <Box pl="52px" pr="6px" pt="8px">{children}</Box>}
    </Box>
  );
}
