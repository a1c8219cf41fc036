'use client';

import { Text } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import type { EngineHealth } from '@/live/desk/engine-health';
import { dropOutsInWords } from '../format';
import { useDesk, useDeskState } from '../shell/desk-context';

const READ_MS = 2000;

/** Whether this machine keeps up, as measured. */
export function EngineNote() {
  const desk = useDesk();
  const running = useDeskState(({ call }) => call === 'running');
  const [health, setHealth] = useState<EngineHealth | null>(null);
  useEffect(() => {
    const timer = setInterval(() => setHealth(desk.engineHealth()), READ_MS);
    return () => clearInterval(timer);
  }, [desk]);
  if (!running || !health) return null;
  const { load, dropOuts } = health;
  const dropped = dropOuts !== null && dropOuts.events > 0;
  return (
    <Text role="note" aria-label="This machine" mt="6px" fontSize="12.5px" color={dropped ? 'ember' : 'soft'}>
      Mixing: {Math.round(load * 100)} % of its time
      {dropOuts !== null && (dropped ? ` · ${dropOutsInWords(dropOuts.events)} in your phones` : ' · no drop-outs')}
    </Text>
  );
}
