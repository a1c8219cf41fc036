'use client';

import { Checkbox } from '@chakra-ui/react';
import { useDesk, useDeskState } from '../shell/desk-context';

/** Whether the next take also holds the finished mixes, beside the sources. */
export function MixesChoice() {
  const desk = useDesk();
  const recordMixes = useDeskState((state) => state.recordMixes);
  const recording = useDeskState((state) => state.recording !== null);
  return (
    <Checkbox.Root
      checked={recordMixes}
      disabled={recording}
      title="Program, returns, phones and feeds get a track of their own."
      onCheckedChange={({ checked }) => desk.chooseRecording({ recordMixes: checked === true })}
    >
      <Checkbox.HiddenInput />
      <Checkbox.Control borderColor="faint" _checked={{ bg: 'lamp', borderColor: 'lamp', color: 'onLight' }} />
      <Checkbox.Label fontSize="14px" fontWeight="400">
        Record the mixes too, beside every voice
      </Checkbox.Label>
    </Checkbox.Root>
  );
}
