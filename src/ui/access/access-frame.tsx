'use client';

import { Box, Flex, Heading, Text } from '@chakra-ui/react';
import { useState, type FormEvent, type ReactNode } from 'react';
import { LanternMark } from '../episodes/lantern-mark';
import { ControlButton } from '../shell/control-button';

interface AccessFrameProps {
  title: string;
  words: string;
  action: string;
  /** Does what the form is for; what it throws is shown. */
  onSubmit(values: FormData): Promise<void>;
  children: ReactNode;
}

/** A page with one short form: signing in, or making an account. */
export function AccessFrame({ title, words, action, onSubmit, children }: AccessFrameProps) {
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    setBusy(true);
    setTrouble(null);
    try {
      await onSubmit(new FormData(event.currentTarget));
    } catch (error) {
      setTrouble((error as Error).message);
      setBusy(false);
    }
  };
  return (
    <Box as="main" maxW="420px" mx="auto" px="20px" py="56px">
      <LanternMark />
      <Heading as="h1" fontFamily="heading" fontSize="26px" fontWeight="750" mt="16px" lineHeight="1.2">
        {title}
      </Heading>
      <Text color="soft" mt="6px" mb="22px">
        {words}
      </Text>
      <form onSubmit={(event) => void submit(event)}>
        <Flex direction="column" gap="16px">
          {children}
          <ControlButton type="submit" tone="lamp" h="46px" fontSize="16px" disabled={busy}>
            {busy ? 'One moment …' : action}
          </ControlButton>
          <Text role="alert" color="ember" minH="24px">
            {trouble}
          </Text>
        </Flex>
      </form>
    </Box>
  );
}
