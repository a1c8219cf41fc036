'use client';

import { Flex, Input, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { freeId } from '../free-id';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';

/** Further mixes, named by the host. Each is a column of the grid and, with the mixes, a track. */
export function FeedsPanel() {
  const desk = useDesk();
  const feeds = useDeskState((state) => state.plan.feeds);
  const [name, setName] = useState('');
  const add = () => {
    const wanted = name.trim();
    if (wanted === '') return;
    desk.plan.change((plan) => ({ ...plan, feeds: [...plan.feeds, { id: freeId(wanted, plan.feeds.map(({ id }) => id)), name: wanted }] }));
    setName('');
  };
  return (
    <Panel title="Feeds" aside={feeds.length === 0 ? 'none' : undefined}>
      {feeds.map((feed) => (
        <Flex key={feed.id} align="center" justify="space-between" mb="6px">
          <Text fontSize="14px">{feed.name}</Text>
          <ControlButton h="28px" aria-label={`Remove the feed ${feed.name}`} onClick={() => desk.plan.apply([{ type: 'remove-feed', feed: feed.id }])}>
            Remove
          </ControlButton>
        </Flex>
      ))}
      <Flex gap="7px">
        <Input
          size="sm"
          maxLength={30}
          placeholder="stream, overflow room …"
          aria-label="Name of a new feed"
          value={name}
          borderColor="hairline"
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.key === 'Enter' && add()}
        />
        <ControlButton h="32px" disabled={name.trim() === '' || feeds.length >= 8} onClick={add}>
          Add
        </ControlButton>
      </Flex>
    </Panel>
  );
}
