'use client';

import { Flex, Text } from '@chakra-ui/react';
import { LogOut } from 'lucide-react';
import NextLink from 'next/link';
import { sendJson } from '@/live/api';
import { ControlButton } from '../shell/control-button';

export interface SignedIn {
  id: string;
  name: string;
  email: string;
  /** The demo signs its host in by itself. */
  demo: boolean;
}

/** Who is signed in, and out again: here, or in every browser. */
export function AccountBar({ account }: { account: SignedIn }) {
  const signOut = (everywhere: boolean) => void sendJson('DELETE', '/api/sign-in', { everywhere }).finally(() => location.assign('/sign-in'));
  if (account.demo) {
    return (
      <Text fontSize="13px" color="soft" maxW="260px" textAlign="right">
        Demo: whoever sits at this machine is signed in as {account.name}.
      </Text>
    );
  }
  return (
    <Flex align="center" gap="8px">
      <NextLink href="/account">
        <Text as="span" fontSize="14px" color="soft" textDecoration="underline">
          {account.name}
        </Text>
      </NextLink>
      <ControlButton h="32px" fontSize="13px" onClick={() => signOut(false)}>
        <LogOut size={14} /> Sign out
      </ControlButton>
      <ControlButton h="32px" fontSize="13px" onClick={() => signOut(true)}>
        Sign out everywhere
      </ControlButton>
    </Flex>
  );
}
