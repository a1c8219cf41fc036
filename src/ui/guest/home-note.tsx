'use client';

import { Box, Progress, Text } from '@chakra-ui/react';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import type { GuestSession } from '@/live/guest/guest-session';
import { formatDuration } from '../format';

/** What is recorded at this end: how much of it has arrived, and whether the page may be closed. */
export function HomeNote({ guest }: { guest: GuestSession }) {
  const home = useStore(guest.store, (state) => state.home);
  const pending = home.recording || home.sentSeconds < home.capturedSeconds;
  useEffect(() => {
    if (!pending) return;
    // What is kept goes on being sent when the page comes back; it is better that it need not.
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [pending]);
  if (home.problem) {
    return (
      <Text role="alert" mt="14px" px="14px" py="10px" bg="emberGround" borderRadius="control" fontSize="15px">
        {home.problem}
      </Text>
    );
  }
  if (home.complete) {
    return (
      <Text role="status" aria-label="Recorded at your end" mt="14px" fontSize="15px" color="soft">
        Everything that was recorded at your end has arrived. You may close this page when you are done.
      </Text>
    );
  }
  if (home.capturedSeconds === 0) return null;
  const share = Math.round((100 * home.sentSeconds) / home.capturedSeconds);
  return (
    <Box role="status" aria-label="Recorded at your end" mt="14px" fontSize="15px" color="soft">
      <Text>
        {home.recording ? `Your microphone is recorded here too: ${formatDuration(home.capturedSeconds)}, of which ${formatDuration(home.sentSeconds)} have arrived.` : `Please keep this page open: ${formatDuration(home.sentSeconds)} of ${formatDuration(home.capturedSeconds)} recorded at your end have arrived.`}
        {home.keptSeconds === null && ' This browser cannot keep it on its disk, so closing the page would lose the rest.'}
        {home.waiting && ` ${home.waiting} It goes on by itself.`}
      </Text>
      {!home.recording && (
        <Progress.Root value={share} size="sm" mt="6px" aria-label="Sent from your end">
          <Progress.Track>
            <Progress.Range bg="lamp" />
          </Progress.Track>
        </Progress.Root>
      )}
    </Box>
  );
}
