'use client';

import { Flex, Grid, Input } from '@chakra-ui/react';
import { useState } from 'react';
import { listenersOf, sourcesOf, type Source } from '@/core/hearing/plan';
import { ControlButton } from '../shell/control-button';
import { KeyCap } from '../shell/key-cap';
import { useDesk, useDeskState } from '../shell/desk-context';
import { AuditPanel } from './audit-panel';
import { CrosspointPanel } from './crosspoint-panel';
import { FeedsPanel } from './feeds-panel';
import { HearingGrid } from './hearing-grid';
import { HearingTabs } from './hearing-tabs';
import { ListenerPanel } from './listener-panel';
import type { Selection } from './selection';
import { SentencePanel } from './sentence-panel';
import { SourcePanel } from './source-panel';

/** All sources by all listeners, what the selected one means in words, and what the audit says. */
export function HearingPage() {
  const plan = useDeskState((state) => state.plan);
  const [filter, setFilter] = useState('');
  const [selection, setSelection] = useState<Selection>({ source: null, listener: null });
  const matches = (name: string) => name.toLowerCase().includes(filter.trim().toLowerCase());
  const sources = sourcesOf(plan).filter((source) => canSpeak(source) && matches(source.name));
  const listeners = listenersOf(plan);
  const source = sources.find(({ id }) => id === selection.source) ?? null;
  const listener = listeners.find(({ id }) => id === selection.listener) ?? null;
  return (
    <Grid as="main" templateColumns={{ base: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 264px', xl: 'minmax(0, 1fr) 312px' }} gap="12px" p="12px" flex="1" minH="0">
      <Flex direction="column" minH={{ base: '440px', lg: '0' }} gap="10px">
        <Flex align="center" gap="8px" wrap={{ base: 'wrap', lg: 'nowrap' }}>
          <HearingTabs />
          <Input
            size="sm"
            w="150px"
            placeholder="Find a source"
            aria-label="Find a source"
            value={filter}
            borderColor="hairline"
            bg="surface"
            onChange={(event) => setFilter(event.target.value)}
          />
          <UndoButtons />
          <Keys />
        </Flex>
        <HearingGrid sources={sources} listeners={listeners} selection={selection} onSelect={setSelection} />
      </Flex>
      <Flex direction="column" gap="10px" minH="0" overflowY="auto">
        <SentencePanel source={source} listener={listener} />
        {source && listener && <CrosspointPanel source={source} listener={listener} />}
        {source && !listener && <SourcePanel source={source} />}
        {listener && !source && <ListenerPanel listener={listener} />}
        <AuditPanel />
        <FeedsPanel />
      </Flex>
    </Grid>
  );
}

/** A practice seat has no talkback to press: its row would be lamps that never carry anything. */
function canSpeak(source: Source): boolean {
  return source.kind !== 'talkback' || source.seat.line !== 'practice';
}

function UndoButtons() {
  const desk = useDesk();
  const canUndo = useDeskState(({ past }) => past.length > 0);
  const canRedo = useDeskState(({ future }) => future.length > 0);
  return (
    <>
      <ControlButton h="32px" disabled={!canUndo} onClick={() => desk.plan.undo()}>
        Undo
      </ControlButton>
      <ControlButton h="32px" disabled={!canRedo} onClick={() => desk.plan.redo()}>
        Redo
      </ControlButton>
    </>
  );
}

const KEYS = [
  ['↑↓←→', 'move'],
  ['Space', 'light or darken'],
  ['+ −', 'level'],
  ['E', 'type a level'],
  ['⌫', 'back to the rule'],
] as const;

function Keys() {
  return (
    <Flex ml="auto" gap="12px" fontSize="12.5px" color="soft" align="center">
      {KEYS.map(([key, does], place) => (
        // Where there is no room for all, those that everybody needs.
        <Flex key={key} align="center" gap="5px" flex="none" display={place < 3 ? { base: 'none', xl: 'flex' } : { base: 'none', '2xl': 'flex' }}>
          <KeyCap>{key}</KeyCap> {does}
        </Flex>
      ))}
    </Flex>
  );
}
