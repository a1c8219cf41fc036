'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useMemo } from 'react';
import { ControlButton, SENTENCE } from '../shell/control-button';
import { Panel } from '../shell/panel';
import { useDesk, useDeskState } from '../shell/desk-context';
import { watchOf } from './notices';

/** What needs the host, in words, with the action that mends it. Empty when all is well. */
export function WatchPanel() {
  const desk = useDesk();
  const notices = useDeskState(useMemo(() => watchOf(desk), [desk]));
  const count = notices.length === 0 ? 'all well' : notices.length === 1 ? '1 thing' : `${notices.length} things`;
  return (
    <Panel title="Watch" aside={count} urgent={notices.some(({ urgent }) => urgent)}>
      {/* The pads stay within reach however much there is to say. */}
      <Box aria-live="polite" maxH="232px" overflowY="auto">
        {notices.length === 0 && (
          <Text fontSize="14px" color="soft">
            Nothing needs you.
          </Text>
        )}
        {notices.map(({ key, words, action, more, also }) => (
          <Box key={key} _notFirst={{ mt: '10px', pt: '10px', borderTopWidth: '1px', borderColor: 'hairline' }}>
            <Text fontSize="14px">{words}</Text>
            {action && (
              <Flex mt="7px" gap="7px" wrap="wrap">
                <ControlButton tone="lamp" {...SENTENCE} aria-label={action.name} onClick={action.run}>
                  {action.label}
                </ControlButton>
                {[more, ...(also ?? [])].map(
                  (other) =>
                    other && (
                      <ControlButton key={other.label} {...SENTENCE} aria-label={other.name} onClick={other.run}>
                        {other.label}
                      </ControlButton>
                    ),
                )}
              </Flex>
            )}
          </Box>
        ))}
      </Box>
    </Panel>
  );
}
