'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useState, type FormEvent } from 'react';
import { FormField } from '../access/form-field';
import { ControlButton } from './control-button';
import { useDesk, useDeskState } from './desk-context';

/** The server no longer knows who sits here: signing in again without leaving the desk. The call and the recording go on meanwhile. */
export function SignInAgain() {
  const desk = useDesk();
  const signedOut = useDeskState((state) => state.signedOut);
  const recording = useDeskState((state) => state.recording !== null);
  const [trouble, setTrouble] = useState<string | null>(null);
  if (!signedOut) return null;
  const signIn = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const { email, password } = Object.fromEntries(new FormData(event.currentTarget)) as Record<string, string>;
    setTrouble(await desk.signInAgain(email, password).then(() => null, (error: Error) => error.message));
  };
  return (
    <Box as="section" role="alertdialog" aria-label="Sign in again" bg="emberGround" px="20px" py="10px">
      <Text fontSize="15px">
        You have been signed out on the server. The call goes on{recording ? ', and so does the recording: what comes is kept on this computer and sent as soon as you are back' : ''}. Sign in again here; nothing has to be closed.
      </Text>
      <Flex as="form" mt="8px" gap="10px" align="end" wrap="wrap" onSubmit={(event) => void signIn(event as unknown as FormEvent<HTMLFormElement>)}>
        <Box w="240px">
          <FormField label="E-mail" name="email" type="email" required autoComplete="username" />
        </Box>
        <Box w="240px">
          <FormField label="Password" name="password" type="password" required autoComplete="current-password" />
        </Box>
        <ControlButton type="submit" tone="lamp" h="40px">
          Sign in and go on
        </ControlButton>
        {trouble && (
          <Text role="alert" fontSize="14px" color="ember">
            {trouble}
          </Text>
        )}
      </Flex>
    </Box>
  );
}
