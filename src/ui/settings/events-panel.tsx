'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import { getJson } from '@/live/api';
import { LocalTime } from '../local-time';
import { Panel } from '../shell/panel';
import { useShowSettings } from './show-settings';

interface ShownEvent {
  at: string;
  who: string;
  words: string;
}

/** Who did what in the show: sign-ins, links, exports, removals. Only its owners see this. */
export function EventsPanel() {
  const { show } = useShowSettings();
  const [events, setEvents] = useState<ShownEvent[]>([]);
  const [trouble, setTrouble] = useState('');
  useEffect(() => {
    getJson<ShownEvent[]>(`/api/shows/${show.id}/events`).then(setEvents, (error: Error) => setTrouble(error.message));
  }, [show.id]);
  return (
    <Panel title="What was done" aside={events.length === 0 ? 'nothing yet' : undefined}>
      <Box as="ol" listStyleType="none" maxH="220px" overflowY="auto" tabIndex={0} aria-label="What was done, newest first">
        {events.map((event, k) => (
          <Flex as="li" key={k} gap="10px" fontSize="13px" py="3px">
            <Text flex="1">
              {event.who} {event.words}
            </Text>
            <Text color="soft" flex="none">
              <LocalTime at={event.at} />
            </Text>
          </Flex>
        ))}
      </Box>
      <Text role="alert" fontSize="13px" color="ember">
        {trouble}
      </Text>
    </Panel>
  );
}
