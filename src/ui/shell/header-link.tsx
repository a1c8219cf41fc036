'use client';

import { chakra } from '@chakra-ui/react';
import NextLink from 'next/link';
import type { ComponentProps } from 'react';

const Link = chakra(NextLink);

/** A link in the header that asks to be followed; in red where something is lost. */
export function HeaderLink({ lost = false, ...props }: ComponentProps<typeof Link> & { lost?: boolean }) {
  return <Link display="flex" alignItems="center" gap="7px" flex="none" minH="34px" px="10px" borderWidth="1px" borderColor={lost ? 'ember' : 'lamp'} borderRadius="control" color={lost ? 'ember' : 'lampCore'} fontSize="13px" fontWeight="600" lineHeight="1.15" _hover={{ bg: 'lampGround' }} {...props} />;
}
