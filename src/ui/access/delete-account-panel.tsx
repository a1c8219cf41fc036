'use client';

import { Box, Text } from '@chakra-ui/react';
import { useState, type FormEvent } from 'react';
import { sendJson } from '@/live/api';
import { ControlButton } from '../shell/control-button';
import { Panel } from '../shell/panel';
import { FormField } from './form-field';

/** Ends one's own account, with its password. */
export function DeleteAccountPanel() {
  const [asking, setAsking] = useState(false);
  const [trouble, setTrouble] = useState('');
  const remove = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    sendJson('DELETE', '/api/account', { password: new FormData(event.currentTarget).get('password') }).then(
      () => location.assign('/sign-in'),
      (error: Error) => setTrouble(error.message),
    );
  };
  return (
    <Panel title="Delete this account">
      <Text fontSize="14px" color="soft" mb="8px">
        You are signed out everywhere and taken off every show; your keys go. Shows with another owner stay, and so does the list of what was done, with your name.
      </Text>
      {asking ? (
        <form onSubmit={remove}>
          <Box maxW="300px">
            <FormField label="Your password, to delete the account" name="password" type="password" autoComplete="current-password" required />
          </Box>
          <ControlButton type="submit" tone="ember" mt="10px">
            Delete my account
          </ControlButton>
          <ControlButton mt="10px" ml="8px" onClick={() => (setAsking(false), setTrouble(''))}>
            Keep it
          </ControlButton>
        </form>
      ) : (
        <ControlButton onClick={() => setAsking(true)}>Delete my account …</ControlButton>
      )}
      <Text role="alert" fontSize="14px" mt="6px" color="ember">
        {trouble}
      </Text>
    </Panel>
  );
}
