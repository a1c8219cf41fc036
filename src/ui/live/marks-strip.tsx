'use client';

import { Flex, Input, Text } from '@chakra-ui/react';
import { Flag } from 'lucide-react';
import { useState } from 'react';
import type { TakeMarker } from '@/core/takes/markers';
import { formatDuration } from '../format';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { KeyCap } from '../shell/key-cap';

const RATE = 48000;

/** While a take is recorded: mark this moment or the last half minute, and name the mark. */
export function MarksStrip() {
  const desk = useDesk();
  const recording = useDeskState((state) => state.recording?.phase === 'recording');
  const last = useDeskState(({ marks }) => marks.at(-1)?.marker);
  const keys = useDeskState((state) => state.keys);
  if (!recording) return null;
  return (
    <Flex as="section" aria-label="Marks" align="center" gap="6px" px="4px" wrap="wrap">
      <ControlButton h="34px" px="10px" onClick={() => desk.marks.mark(false)}>
        <Flag size={14} /> Mark <KeyCap>{keys.mark.toUpperCase()}</KeyCap>
      </ControlButton>
      <ControlButton h="34px" px="10px" onClick={() => desk.marks.mark(true)}>
        Last 30 s <KeyCap>{keys['mark-back'].toUpperCase()}</KeyCap>
      </ControlButton>
      {last && <MarkName key={last.id} marker={last} />}
    </Flex>
  );
}

function MarkName({ marker }: { marker: TakeMarker }) {
  const desk = useDesk();
  const [name, setName] = useState(marker.name);
  return (
    <Flex align="center" gap="6px" flex="1" minW="120px">
      <Text fontSize="13px" color="soft">
        {formatDuration(marker.atSample / RATE)}
      </Text>
      <Input
        size="sm"
        h="34px"
        aria-label="Name of the last mark"
        maxLength={120}
        value={name}
        borderColor="hairline"
        onChange={(event) => setName(event.target.value)}
        onBlur={() => desk.marks.rename(marker.id, name)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
        }}
      />
    </Flex>
  );
}
