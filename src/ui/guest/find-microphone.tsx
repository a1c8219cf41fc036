'use client';

import { Box, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { findMicrophone } from '@/live/check/find-microphone';
import { ControlButton } from '../shell/control-button';
import { useGuest, useGuestState } from './guest-context';

/** Which of several microphones hears the guest best, while they speak for three seconds. */
export function FindMicrophone() {
  const guest = useGuest();
  const devices = useGuestState((state) => state.devices);
  const chosen = useGuestState(({ microphone }) => (microphone.kind === 'open' ? microphone.deviceId : null));
  const [state, setState] = useState<'idle' | 'listening' | { best: string | null }>('idle');
  if (devices.length < 2) return null;
  const find = async () => {
    setState('listening');
    const { heard } = await findMicrophone(devices.map(({ deviceId }) => ({ key: deviceId, id: deviceId }))).catch(() => ({ heard: [] }));
    setState({ best: heard[0]?.hears ? heard[0].key : null });
  };
  const best = typeof state === 'object' ? state.best : null;
  const name = devices.find(({ deviceId }) => deviceId === best)?.label;
  return (
    <Box mt="12px">
      <ControlButton h="40px" disabled={state === 'listening'} onClick={() => void find()}>
        Find my microphone
      </ControlButton>
      <Text role="status" fontSize="15px" color="soft" mt="6px">
        {state === 'listening' && 'Speak now, for three seconds …'}
        {typeof state === 'object' && (best === null ? 'None of your microphones hears you.' : best === chosen ? `${name} hears you best, and it is chosen.` : `${name} hears you best.`)}
      </Text>
      {best !== null && best !== chosen && (
        <ControlButton tone="lamp" h="40px" mt="6px" onClick={() => void guest.input.open(best)}>
          Use {name}
        </ControlButton>
      )}
    </Box>
  );
}
