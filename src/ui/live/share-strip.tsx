'use client';

import { Box, Flex, Menu, Portal, Text } from '@chakra-ui/react';
import { MonitorSpeaker, X } from 'lucide-react';
import type { ShareState } from '@/live/desk/desk-state';
import type { ShareKind } from '@/live/share/desk-share';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';

const WAYS: { kind: ShareKind; words: string }[] = [
  { kind: 'browser', words: 'A tab, a window or the whole computer …' },
  { kind: 'simulated', words: 'Practise: made-up music' },
  { kind: 'simulated-loop', words: 'Practise: a share that contains this call' },
];

/** Sharing another program's sound into the call: beginning it, what it is, ending it. */
export function ShareStrip() {
  const desk = useDesk();
  const running = useDeskState((state) => state.call === 'running');
  const share = useDeskState((state) => state.share);
  if (share) {
    return (
      <Flex mt="8px" align="center" gap="8px" role="group" aria-label="Shared computer sound">
        <Box color={share.phase === 'held' ? 'ember' : share.phase === 'open' ? 'lamp' : 'soft'} aria-hidden>
          <MonitorSpeaker size={18} />
        </Box>
        <Box flex="1" minW="0" fontSize="13px" lineHeight="1.25">
          <Text truncate title={share.label}>
            {share.label}
          </Text>
          <Text role="status" color={share.phase === 'held' ? 'ember' : 'soft'}>
            {PHASE_WORDS[share.phase]}
          </Text>
        </Box>
        <ControlButton h="30px" px="9px" onClick={() => desk.share.stop()}>
          <X size={13} /> Stop sharing
        </ControlButton>
      </Flex>
    );
  }
  return (
    <Menu.Root onSelect={({ value }) => void desk.startShare(value as ShareKind)} positioning={{ placement: 'top-start' }}>
      <Menu.Trigger asChild>
        <ControlButton mt="8px" h="30px" w="100%" disabled={!running}>
          <MonitorSpeaker size={15} /> Share computer sound …
        </ControlButton>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content bg="raised" borderWidth="1px" borderColor="hairline">
            {WAYS.map(({ kind, words }) => (
              <Menu.Item key={kind} value={kind}>
                {words}
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}

const PHASE_WORDS: Record<ShareState['phase'], string> = {
  checking: 'checked for this call; nobody hears it yet',
  open: 'shared into the call',
  held: 'contains this call: nobody hears it',
};
