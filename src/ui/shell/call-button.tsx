'use client';

import { Box } from '@chakra-ui/react';
import { PhoneCall, PhoneOff } from 'lucide-react';
import { ControlButton } from './control-button';
import { useDesk, useDeskState } from './desk-context';

/** Starts and ends the call. */
export function CallButton() {
  const desk = useDesk();
  const call = useDeskState((state) => state.call);
  const place = useDeskState((state) => state.place);
  if (place === 'watching') return null;
  if (call === 'running') {
    return (
      <ControlButton onClick={() => void desk.endCall()}>
        <Box as={PhoneOff} boxSize="16px" hideBelow="xl" aria-hidden /> End call
      </ControlButton>
    );
  }
  return (
    <ControlButton tone="tide" disabled={call === 'starting' || place === 'opening'} onClick={() => void desk.startCall()}>
      <PhoneCall size={16} />
      {call === 'starting' ? 'Starting …' : call === 'blocked' ? 'Let the sound in' : 'Start call'}
    </ControlButton>
  );
}
