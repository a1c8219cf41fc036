'use client';

import { Box, Flex, Heading, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useState, type FormEvent } from 'react';
import { sendJson } from '@/live/api';
import { LocalTime } from '../local-time';
import { ControlButton } from '../shell/control-button';
import { Panel } from '../shell/panel';
import { browserInWords } from './browser-words';
import { DeleteAccountPanel } from './delete-account-panel';
import { FormField } from './form-field';

export interface SignInShown {
  id: string;
  browser: string;
  since: string;
  seenAt: string;
  own: boolean;
}

/** One's own account: another password, and every browser that is signed in. */
export function AccountPage({ account, hasPassword, signIns }: { account: { name: string; email: string }; hasPassword: boolean; signIns: SignInShown[] }) {
  return (
    <Box as="main" maxW="680px" mx="auto" p="24px">
      <NextLink href="/">
        <Text as="span" fontSize="14px" color="soft" textDecoration="underline">
          All episodes
        </Text>
      </NextLink>
      <Heading as="h1" fontFamily="heading" fontSize="26px" mt="8px">
        {account.name}
      </Heading>
      <Text color="soft" mb="16px">
        {account.email}
      </Text>
      <Flex direction="column" gap="12px">
        {hasPassword ? <PasswordPanel /> : <Text color="soft">The demo’s host has no password: whoever sits at this machine is signed in.</Text>}
        <SignInsPanel shown={signIns} />
        {hasPassword && <DeleteAccountPanel />}
      </Flex>
    </Box>
  );
}

function PasswordPanel() {
  const [said, setSaid] = useState<{ words: string; wrong: boolean }>({ words: '', wrong: false });
  const change = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const values = new FormData(form);
    sendJson('PUT', '/api/account/password', { now: values.get('now'), next: values.get('next') }).then(
      () => {
        form.reset();
        setSaid({ words: 'It is changed. Every other browser was signed out.', wrong: false });
      },
      (error: Error) => setSaid({ words: error.message, wrong: true }),
    );
  };
  return (
    <Panel title="Password">
      <form onSubmit={change}>
        <Flex gap="12px" wrap="wrap" align="start">
          <Box flex="1" minW="200px">
            <FormField label="The one you have now" name="now" type="password" autoComplete="current-password" required />
          </Box>
          <Box flex="1" minW="200px">
            <FormField label="New password" name="next" type="password" autoComplete="new-password" minLength={10} required help="at least 10 characters" />
          </Box>
        </Flex>
        <ControlButton type="submit" tone="lamp" mt="10px">
          Change it
        </ControlButton>
      </form>
      <Text role={said.wrong ? 'alert' : 'status'} fontSize="14px" mt="6px" color={said.wrong ? 'ember' : 'soft'}>
        {said.words}
      </Text>
    </Panel>
  );
}

function SignInsPanel({ shown }: { shown: SignInShown[] }) {
  const [open, setOpen] = useState(shown);
  const [trouble, setTrouble] = useState('');
  const end = ({ id, own }: SignInShown) =>
    void sendJson('DELETE', `/api/account/sign-ins/${id}`).then(
      () => (own ? location.assign('/sign-in') : setOpen((now) => now.filter((one) => one.id !== id))),
      (error: Error) => setTrouble(error.message),
    );
  return (
    <Panel title="Where you are signed in" aside={open.length === 0 ? 'this machine, without a password' : undefined}>
      <Flex as="ul" direction="column" gap="8px" listStyleType="none">
        {open.map((one) => (
          <Flex as="li" key={one.id} align="center" gap="12px">
            <Box flex="1" minW="0">
              <Text fontSize="14px" fontWeight="600">
                {browserInWords(one.browser)}
                {one.own && ' (this one)'}
              </Text>
              <Text fontSize="13px" color="soft">
                since <LocalTime at={one.since} />, last used <LocalTime at={one.seenAt} />
              </Text>
            </Box>
            <ControlButton h="30px" aria-label={`Sign out ${browserInWords(one.browser)}${one.own ? ', this one' : ''}`} onClick={() => end(one)}>
              Sign out
            </ControlButton>
          </Flex>
        ))}
      </Flex>
      <Text role="alert" fontSize="14px" color="ember">
        {trouble}
      </Text>
    </Panel>
  );
}
