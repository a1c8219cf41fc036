'use client';

import { Box, Heading, Text } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { LanternMark } from '../episodes/lantern-mark';

/** A link that lets nobody in: says so kindly and shows nothing else. */
export function LinkEndedPage({ words, children }: { words: string; children?: ReactNode }) {
  return (
    <Box as="main" maxW="460px" mx="auto" px="20px" py="48px">
      <LanternMark />
      <Heading as="h1" fontFamily="heading" fontSize="24px" mt="18px" lineHeight="1.2">
        This link does not lead anywhere now
      </Heading>
      <Text mt="10px" fontSize="17px" color="soft">
        {words}
      </Text>
      {children}
    </Box>
  );
}
