'use client';

import { Flex, Text } from '@chakra-ui/react';
import { mayIn } from '@/core/access/rights';
import { formatClock } from '../format';
import { ControlButton } from './control-button';
import { useDesk, useDeskState } from './desk-context';

/** Says that another window is the desk, what it does, and offers to take over. */
export function WatchBanner() {
  const desk = useDesk();
  const place = useDeskState((state) => state.place);
  const watched = useDeskState((state) => state.watched);
  const boxAway = useDeskState((state) => state.boxAway);
  if (place === 'desk') {
    return boxAway ? (
      <Bar ember>
        <Text>The server cannot be reached. The call and the recording go on; new guests come in when it is back.</Text>
      </Bar>
    ) : null;
  }
  if (place === 'opening') return null;
  const now = !watched ? 'Nobody is at the desk now.' : !watched.call ? 'No call runs there.' : watched.recording ? `The call runs there and take ${watched.recording.number} is being recorded: ${formatClock(watched.recording.seconds)}.` : 'The call runs there.';
  return (
    <Bar>
      <Text flex="1">This window watches. {now}</Text>
      {mayIn(desk.data.role, 'work') ? (
        <ControlButton tone="lamp" onClick={() => void desk.takeOver()} title={watched?.recording ? 'The take is stopped and sealed there.' : undefined}>
          Take over the desk here
        </ControlButton>
      ) : (
        <Text color="soft">As a producer you watch; to talk, open the link of your seat.</Text>
      )}
    </Bar>
  );
}

function Bar({ ember = false, children }: { ember?: boolean; children: React.ReactNode }) {
  return (
    <Flex role="status" aria-label="This window" align="center" gap="14px" px="20px" py="8px" bg={ember ? 'emberGround' : 'tideGround'} fontSize="15px">
      {children}
    </Flex>
  );
}
