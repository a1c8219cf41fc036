'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { CheckProgress } from '@/live/check/check-state';
import { useReading } from '../frame';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';

const WORDS: Record<CheckProgress['phase'], string> = {
  'count-down': 'Everybody is asked to be quiet',
  sources: 'Every source, into every mix',
  listeners: 'Every mix, back through every microphone',
  repeat: 'Once more: somebody spoke, or a device stood still',
  again: 'Once more, behind what was loudest',
  judging: 'What the guests’ pages say',
  one: 'One person alone, while the call goes on',
};

/** The one press that measures everything, and what it does while it does it. */
export function LineCheckPanel() {
  const desk = useDesk();
  const call = useDeskState((state) => state.call);
  const check = useDeskState((state) => state.check);
  const recording = useDeskState((state) => state.recording !== null);
  const done = useDeskState((state) => state.lastCheck !== null);
  return (
    <Panel title="Line check">
      {check ? (
        <Progress check={check} />
      ) : (
        <>
          <Text fontSize="14px" color="soft" mb="10px">
            Plays a soft hiss of at most −26 dBFS to everybody for six seconds, longer where something is listened to again, and measures where it arrives. Nobody hears anything else meanwhile; guests see a count-down.
          </Text>
          {call !== 'running' && (
            <Text fontSize="14px" mb="10px">
              Start the call first: what is measured is the call itself.
            </Text>
          )}
          {recording && (
            <Text fontSize="14px" color="ember" mb="10px">
              A take runs: its mixes would hold the hiss, its voices would not. The take says so afterwards.
            </Text>
          )}
          <ControlButton tone={recording ? 'plain' : 'lamp'} disabled={call !== 'running'} onClick={() => void desk.check.start(recording)}>
            {recording ? 'Check although a take runs' : done ? 'Measure again' : 'Measure everything'}
          </ControlButton>
        </>
      )}
    </Panel>
  );
}

function Progress({ check }: { check: CheckProgress }) {
  const desk = useDesk();
  const [now, setNow] = useState(() => performance.now());
  useReading(() => setNow(performance.now()));
  const before = Math.ceil((check.beginsAt - now) / 1000);
  const share = Math.max(0, Math.min(1, (now - check.beginsAt) / (check.endsAt - check.beginsAt)));
  return (
    <Box>
      <Text role="status" fontSize="15px" fontWeight="700">
        {check.phase === 'count-down' && before > 0 ? `In ${before}: ` : ''}
        {WORDS[check.phase]}
      </Text>
      <Box role="progressbar" aria-label="Line check" aria-valuemin={0} aria-valuemax={100} aria-valuenow={Math.round(100 * share)} my="10px" h="6px" borderRadius="full" bg="ground" overflow="hidden">
        <Box h="100%" bg="lamp" style={{ width: `${100 * share}%` }} />
      </Box>
      <Flex>
        <ControlButton h="30px" onClick={() => desk.check.stop()}>
          Break off
        </ControlButton>
      </Flex>
    </Box>
  );
}
