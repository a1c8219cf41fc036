'use client';

import { Box, chakra, Flex, Heading, IconButton } from '@chakra-ui/react';
import { Keyboard, Settings2 } from 'lucide-react';
import NextLink from 'next/link';
import { usePathname } from 'next/navigation';
import type { ReactNode } from 'react';
import type { Room, RoomState } from '@/core/session/readiness';
import { RoomLinks } from './room-links';
import { ThemeSwitch } from './theme-switch';

const Link = chakra(NextLink);

interface EpisodeHeaderProps {
  episode: { id: string; number: number; title: string; show: string };
  states?: Record<Room, RoomState>;
  /** Opens the sheet of keys and actions. */
  onSheet?(): void;
  children?: ReactNode;
}

/** The bar over every room of an episode: the way through the work, the call and the recording lamp. In a small window, or enlarged, it takes several lines. */
export function EpisodeHeader({ episode, states, onSheet, children }: EpisodeHeaderProps) {
  const settings = `/episodes/${episode.id}/settings`;
  const isAtSettings = usePathname() === settings;
  return (
    <Flex as="header" align="center" gap={{ base: '2', xl: '3' }} px={{ base: '12px', xl: '20px' }} py={{ base: '6px', lg: '0' }} minH="66px" flex="none" wrap={{ base: 'wrap', lg: 'nowrap' }} borderBottomWidth="1px" borderColor="hairline">
      <Box minW={{ base: '72px', xl: '118px' }} flex="0 1 auto">
        <Heading as="h1" fontFamily="heading" fontSize={{ base: '15px', xl: '19px' }} fontWeight="700" lineHeight={{ base: '1.15', xl: '1.25' }} lineClamp={{ base: 2, xl: 1 }} title={episode.title}>
          {episode.title}
        </Heading>
        <Link href="/" display="block" lineHeight="24px" truncate fontSize="13px" color="soft" _hover={{ color: 'text' }} title="All episodes">
          {episode.show} · episode {episode.number}
        </Link>
      </Box>
      <RoomLinks episode={episode.id} states={states} />
      <Flex align="center" gap={{ base: '1', xl: '2' }} ml="auto" flex={{ base: '0 1 auto', lg: 'none' }} wrap={{ base: 'wrap', lg: 'nowrap' }}>
        {children}
        {onSheet && (
          <IconButton aria-label="Keys and actions" title="Keys and actions (?)" size="sm" variant="ghost" color="soft" minW="30px" w="30px" _hover={{ bg: 'raised' }} onClick={onSheet}>
            <Keyboard size={18} />
          </IconButton>
        )}
        <Link href={settings} aria-label="Show settings" aria-current={isAtSettings ? 'page' : undefined} title="Show settings" display="grid" placeItems="center" boxSize="30px" flex="none" borderRadius="control" color={isAtSettings ? 'text' : 'soft'} bg={isAtSettings ? 'raised' : 'transparent'} _hover={{ color: 'text' }}>
          <Settings2 size={18} aria-hidden />
        </Link>
        <ThemeSwitch />
      </Flex>
    </Flex>
  );
}
