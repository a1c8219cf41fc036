'use client';

import { Flex, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { DESK_ACTION_NAMES, DESK_ACTIONS, KEY_PATTERN, keyTakenBy, type DeskAction } from '@/core/session/desk-actions';
import { KeyField } from '../shell/key-field';
import { Panel } from '../shell/panel';
import { useShowSettings } from './show-settings';

/** The key of every move on air, each changeable; a key that is taken is refused, by name. */
export function KeysPanel() {
  const { keys, pads, setKey, run } = useShowSettings();
  const [said, setSaid] = useState('');
  const choose = (action: DeskAction, key: string) => {
    if (!KEY_PATTERN.test(key)) return setSaid('Only keys that type a letter, a digit or a sign can be used.');
    const taken = keyTakenBy(key, keys, pads, action);
    if (taken) return setSaid(`${key.toUpperCase()} is taken: ${taken}.`);
    setSaid('');
    run(setKey(action, key));
  };
  return (
    <Panel title="Keys" aside="mine, in every show">
      <Text fontSize="13px" color="soft" mb="4px">
        Put the cursor in a field and press the key it should be.
      </Text>
      {DESK_ACTION_NAMES.map((action) => (
        <Flex key={action} align="center" justify="space-between" gap="8px" py="3px">
          <Text fontSize="13.5px">{DESK_ACTIONS[action].words}</Text>
          <KeyField label={`Key for: ${DESK_ACTIONS[action].words}`} value={keys[action]} onKey={(key) => choose(action, key)} />
        </Flex>
      ))}
      <Text role="alert" fontSize="13px" color="ember" minH="18px" mt="4px">
        {said}
      </Text>
    </Panel>
  );
}
