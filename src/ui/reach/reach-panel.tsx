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
  const findings = [...(reach?.findings ?? []), ...(reach && tried && tried !== 'trying' ? foundByTrying(tried, reach) : [])];
  const wrong = findings.filter(({ state }) => state === 'wrong').length;
  return (
    <Panel title="Reach" urgent={wrong > 0} aside={reach === null ? 'looking …' : wrong === 0 ? 'nothing is wrong' : wrong === 1 ? 'one thing is wrong' : `${wrong} things are wrong`}>
      <Flex as="ul" direction="column" gap="8px" listStyleType="none">
        {findings.map((finding) => (
          <Finding key={finding.words} {...finding} />
        ))}
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

function foundByTrying({ direct, relay }: Tried, { iceServers }: Reach): ReachFinding[] {
  const hasRelay = iceServers.some(({ urls }) => urls.some((url) => url.startsWith('turn')));
  return [
    direct.through ? { what: 'address', state: 'good', words: `A call from this browser came about in ${direct.ms} ms.` } : { what: 'address', state: 'wrong', words: `A call from this browser did not come about: ${direct.why}.` },
    relay.through ? { what: 'relay', state: 'good', words: `Through the relay alone it came about in ${relay.ms} ms.` } : { what: 'relay', state: hasRelay ? 'wrong' : 'unknown', words: `Through the relay alone it did not: ${relay.why}.` },
  ];
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
