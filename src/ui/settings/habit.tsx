'use client';

import { Box, Checkbox, Flex, Text } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { otherThan, type DeskHabits } from '@/core/session/habits';
import { ControlButton } from '../shell/control-button';
import { useShowSettings } from './show-settings';

/** One habit; where an episode has it otherwise than its show, that is said and can be given back. */
export function Habit({ name, words, children }: { name: keyof DeskHabits; words: string; children: ReactNode }) {
  const { habits, showHabits, setHabits, run } = useShowSettings();
  const isOwn = showHabits !== null && otherThan(showHabits, habits).includes(name);
  return (
    <Box mb="8px">
      {children}
      {isOwn && (
        <Flex align="center" gap="8px" mt="3px" fontSize="13px" color="tide">
          <Text>only in this episode</Text>
          <ControlButton h="26px" px="9px" fontSize="12.5px" aria-label={`As in the show again: ${words}`} onClick={() => run(setHabits({ [name]: showHabits[name] }))}>
            As in the show
          </ControlButton>
        </Flex>
      )}
    </Box>
  );
}

/** Something that takes hold beside what every take holds. */
export function HabitCheck({ name, words, title }: { name: 'recordMixes' | 'recordTalkback' | 'recordProcessed'; words: string; title: string }) {
  const { habits, setHabits, run } = useShowSettings();
  return (
    <Habit name={name} words={words}>
      <Checkbox.Root checked={habits[name]} title={title} onCheckedChange={({ checked }) => run(setHabits({ [name]: checked === true }))}>
        <Checkbox.HiddenInput />
        <Checkbox.Control borderColor="faint" _checked={{ bg: 'lamp', borderColor: 'lamp', color: 'onLight' }} />
        <Checkbox.Label fontSize="14px" fontWeight="400">
          {words}
        </Checkbox.Label>
      </Checkbox.Root>
    </Habit>
  );
}
