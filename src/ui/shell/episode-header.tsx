'use client';

import { Box, chakra, Flex, Heading } from '@chakra-ui/react';
import NextLink from 'next/link';
import { usePathname } from 'next/navigation';
import type { ReactNode } from 'react';
import { ThemeSwitch } from './theme-switch';

const Link = chakra(NextLink);

interface EpisodeHeaderProps {
  episode: { id: string; number: number; title: string; show: string };
  children?: ReactNode;
}

/** The rooms of an episode, in the order of the work. */
const ROOMS = [
  { name: 'Prepare', path: 'prepare' },
  { name: 'Sounds', path: 'sounds' },
  { name: 'Hearing', path: 'hearing' },
  { name: 'Live', path: 'live' },
  { name: 'Takes', path: 'takes' },
] as const;

export function EpisodeHeader({ episode, children }: EpisodeHeaderProps) {
  const here = usePathname();
  return (
    <Flex as="header" align="center" gap={{ base: '2', xl: '4' }} px={{ base: '12px', xl: '20px' }} h="66px" borderBottomWidth="1px" borderColor="hairline">
      <Box minW="118px" flex="0 1 auto">
        <Heading as="h1" fontFamily="heading" fontSize="19px" fontWeight="700" lineHeight="1.25" truncate>
          {episode.title}
        </Heading>
        <Link href="/" display="block" truncate fontSize="13px" color="soft" _hover={{ color: 'text' }} title="All episodes">
          {episode.show} · episode {episode.number}
        </Link>
      </Box>
      <Flex as="nav" aria-label="Episode" gap={{ base: '0', xl: '1' }} flex="none">
        {ROOMS.map(({ name, path }) => {
          const address = `/episodes/${episode.id}/${path}`;
          const isHere = here.startsWith(address);
          return (
            <Link
              key={path}
              href={address}
              aria-current={isHere ? 'page' : undefined}
              px={{ base: '8px', xl: '11px' }}
              py="7px"
              fontSize="15px"
              borderRadius="full"
              color={isHere ? 'text' : 'soft'}
              bg={isHere ? 'raised' : 'transparent'}
              _hover={{ color: 'text' }}
            >
              {name}
            </Link>
          );
        })}
      </Flex>
      <Flex align="center" gap={{ base: '2', xl: '3' }} ml="auto" minW="0">
        {children}
        <ThemeSwitch />
      </Flex>
    </Flex>
  );
}
