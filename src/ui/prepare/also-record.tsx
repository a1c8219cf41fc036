'use client';

import { Checkbox } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { useDesk, useDeskState } from '../shell/desk-context';

/** Something that the next take may hold beside what every take holds. */
export function AlsoRecord({ choice, title, children }: { choice: 'recordMixes' | 'recordTalkback' | 'recordProcessed'; title: string; children: ReactNode }) {
  const desk = useDesk();
  const chosen = useDeskState((state) => state[choice]);
  const recording = useDeskState((state) => state.recording !== null);
  return (
    <Checkbox.Root checked={chosen} disabled={recording} title={title} onCheckedChange={({ checked }) => desk.settings.chooseRecording({ [choice]: checked === true })}>
      <Checkbox.HiddenInput />
      <Checkbox.Control borderColor="faint" _checked={{ bg: 'lamp', borderColor: 'lamp', color: 'onLight' }} />
      <Checkbox.Label fontSize="14px" fontWeight="400">
        {children}
      </Checkbox.Label>
    </Checkbox.Root>
  );
}
