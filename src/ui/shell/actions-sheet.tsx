'use client';

import { Box, Flex, Input, Text } from '@chakra-ui/react';
import { useRouter } from 'next/navigation';
import { useState, type KeyboardEvent } from 'react';
import { findActions } from '@/core/session/find-action';
import { useDesk } from './desk-context';
import { KeyCap } from './key-cap';
import { Sheet } from './sheet';
import { quickActions, type QuickAction } from './quick-actions';

/** All keys, and the way to any action by typing its name. */
export function ActionsSheet({ onClose }: { onClose(): void }) {
  const desk = useDesk();
  const router = useRouter();
  // As it was when the sheet was opened: a list that moves under the eye cannot be read.
  const [actions] = useState(() => quickActions(desk, desk.store.getState(), (address) => router.push(address)));
  const [typed, setTyped] = useState('');
  const [chosen, setChosen] = useState(0);
  const found = findActions(actions, typed);
  const does = (action: QuickAction | undefined): void => {
    if (!action) return;
    onClose();
    action.run();
  };
  const move = (event: KeyboardEvent<HTMLInputElement>): void => {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      const next = Math.max(0, Math.min(found.length - 1, chosen + (event.key === 'ArrowDown' ? 1 : -1)));
      setChosen(next);
      document.getElementById(optionId(next))?.scrollIntoView({ block: 'nearest' });
    }
    if (event.key === 'Enter') does(found[chosen]);
  };
  return (
    <Sheet
      title="Keys and actions"
      scrollBehavior="inside"
      content={{ maxH: '80vh' }}
      onClose={onClose}
      under={
        <Input
          autoFocus
          mt="10px"
          placeholder="Type what you want to do"
          aria-label="What do you want to do?"
          role="combobox"
          aria-expanded
          aria-controls="actions-found"
          aria-activedescendant={found.length > 0 ? optionId(chosen) : undefined}
          borderColor="hairline"
          bg="ground"
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            setChosen(0);
          }}
          onKeyDown={move}
        />
      }
    >
      <Box role="listbox" id="actions-found" aria-label="Actions">
        {found.map((action, place) => (
          <Flex
            key={`${action.name} ${place}`}
            id={optionId(place)}
            role="option"
            aria-selected={place === chosen}
            align="center"
            justify="space-between"
            gap="12px"
            minH="34px"
            px="10px"
            borderRadius="control"
            cursor="pointer"
            fontSize="15px"
            bg={place === chosen ? 'raised' : 'transparent'}
            onPointerMove={() => setChosen(place)}
            onClick={() => does(action)}
          >
            {action.name}
            {action.key !== '' && (
              <Flex align="center" gap="6px">
                <Text srOnly>key {action.key}</Text>
                <KeyCap>{action.key.toUpperCase()}</KeyCap>
              </Flex>
            )}
          </Flex>
        ))}
      </Box>
      {found.length === 0 && <Text color="soft">No action by that name.</Text>}
    </Sheet>
  );
}

const optionId = (place: number): string => `action-${place}`;
