'use client';

import { chakra, Flex } from '@chakra-ui/react';
import NextLink from 'next/link';
import { usePathname } from 'next/navigation';
import { useDesk } from '../shell/desk-context';

const Link = chakra(NextLink);

/** The two sides of Hearing: the grid, and what goes in and out of this computer and outside of it. */
export function HearingTabs() {
  const { id } = useDesk().data.episode;
  const here = usePathname();
  const tabs = [
    { name: 'Grid', address: `/episodes/${id}/hearing` },
    { name: 'In and out', address: `/episodes/${id}/hearing/in-and-out` },
  ];
  return (
    <Flex as="nav" aria-label="Hearing" gap="4px" flex="none">
      {tabs.map(({ name, address }) => (
        <Link key={name} href={address} aria-current={here === address ? 'page' : undefined} px="12px" h="32px" display="inline-flex" alignItems="center" fontSize="14px" fontWeight="600" borderRadius="full" whiteSpace="nowrap" color={here === address ? 'text' : 'soft'} bg={here === address ? 'raised' : 'transparent'} _hover={{ color: 'text' }}>
          {name}
        </Link>
      ))}
    </Flex>
  );
}
