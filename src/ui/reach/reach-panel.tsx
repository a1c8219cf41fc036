'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { Check, CircleAlert, CircleHelp } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { Reach, ReachFinding } from '@/core/session/reach';
import { getJson } from '@/live/api';
import { tryCall, type TriedCall } from '@/live/reach/try-call';
import { ControlButton } from '../shell/control-button';
import { Panel } from '../shell/panel';

const MARKS = {
  good: { Icon: Check, color: 'well', words: 'good' },
  wrong: { Icon: CircleAlert, color: 'ember', words: 'wrong' },
  unknown: { Icon: CircleHelp, color: 'soft', words: 'not known from here' },
} as const;

interface Tried {
  direct: TriedCall;
  relay: TriedCall;
}

/** Whether guests elsewhere can come in: what the server can tell, and a call tried from this browser. */
export function ReachPanel() {
  const [reach, setReach] = useState<Reach | null>(null);
  const [trouble, setTrouble] = useState('');
  const [tried, setTried] = useState<Tried | 'trying' | null>(null);
  useEffect(() => {
    getJson<Reach>('/api/reach').then(setReach, (error: Error) => setTrouble(error.message));
  }, []);
  const tryIt = async () => {
    setTried('trying');
    const iceServers = reach?.iceServers ?? [];
    setTried({ direct: await tryCall(iceServers, 'all'), relay: await tryCall(iceServers, 'relay') });
  };
  const wrong = reach?.findings.filter(({ state }) => state === 'wrong').length ?? 0;
  return (
    <Panel title="Reach" urgent={wrong > 0} aside={reach === null ? 'looking …' : wrong === 0 ? 'nothing is wrong' : wrong === 1 ? 'one thing is wrong' : `${wrong} things are wrong`}>
      <Flex as="ul" direction="column" gap="8px" listStyleType="none">
        {reach?.findings.map((finding) => (
          <Finding key={finding.what} {...finding} />
        ))}
        {tried !== null && tried !== 'trying' && (
          <>
            <Finding what="address" state={tried.direct.through ? 'good' : 'wrong'} words={tried.direct.through ? `A call from this browser came about in ${tried.direct.ms} ms.` : `A call from this browser did not come about: ${tried.direct.why}.`} />
            <Finding what="relay" state={tried.relay.through ? 'good' : reach?.iceServers.some(({ urls }) => urls.some((url) => url.startsWith('turn'))) ? 'wrong' : 'unknown'} words={tried.relay.through ? `Through the relay alone it came about in ${tried.relay.ms} ms.` : `Through the relay alone it did not: ${tried.relay.why}.`} />
          </>
        )}
      </Flex>
      <ControlButton mt="10px" disabled={reach === null || tried === 'trying'} onClick={() => void tryIt()}>
        {tried === 'trying' ? 'Trying …' : 'Try a call'}
      </ControlButton>
      <Text role="alert" fontSize="14px" color="ember">
        {trouble}
      </Text>
    </Panel>
  );
}

function Finding({ state, words }: ReachFinding) {
  const { Icon, color, words: mark } = MARKS[state];
  return (
    <Flex as="li" gap="10px" align="start" fontSize="14px">
      <Box color={color} flex="none" mt="2px">
        <Icon size={16} aria-label={mark} />
      </Box>
      <Text>
        {words.split('`').map((part, k) =>
          // Commands are broken only where they are longer than the line: they are to be read, and copied, whole.
          k % 2 === 0 ? part : (
            <Text key={k} as="code" fontFamily="mono" fontSize="12.5px" display="inline-block" maxW="100%" overflowWrap="anywhere">
              {part}
            </Text>
          ),
        )}
      </Text>
    </Flex>
  );
}
