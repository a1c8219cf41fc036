'use client';

import { Flex, Text } from '@chakra-ui/react';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { ServerError, sendJson } from '@/live/api';
import { ControlButton } from '../shell/control-button';

/** A made-up show to look around in, with people who talk. */
export function OpenDemo() {
  const router = useRouter();
  const [said, setSaid] = useState<string | null>(null);
  const open = async (): Promise<void> => {
    setSaid('Making the demo …');
    try {
      const { episode } = await sendJson<{ episode: string }>('POST', '/api/demo');
      router.push(`/episodes/${episode}/live`);
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  return (
    <Flex align="center" gap="12px">
      <ControlButton onClick={() => void open()}>Open the demo</ControlButton>
      <Text role="status" fontSize="14px" color="soft">
        {said ?? 'A made-up show with people who talk; it can be removed again.'}
      </Text>
    </Flex>
  );
}

/** Puts a demo away; what was recorded in it only after that was asked. */
export function PutDemoAway({ show, name }: { show: string; name: string }) {
  const router = useRouter();
  const [asked, setAsked] = useState<string | null>(null);
  const put = (withTakes: boolean): void =>
    void sendJson('DELETE', `/api/shows/${show}/demo`, { withTakes }).then(
      () => router.refresh(),
      (error: Error) => setAsked(error instanceof ServerError && error.code === 'has-takes' ? error.message : `The demo is still there. ${error.message}`),
    );
  if (asked === null) {
    return (
      <ControlButton aria-label={`Remove the demo ${name}`} onClick={() => put(false)}>
        Remove the demo
      </ControlButton>
    );
  }
  return (
    <Flex role="alert" align="center" gap="10px" fontSize="14px">
      <Text color="ember">{asked}</Text>
      <ControlButton tone="ember" onClick={() => put(true)}>
        Remove demo and takes
      </ControlButton>
      <ControlButton onClick={() => setAsked(null)}>Keep it</ControlButton>
    </Flex>
  );
}
