'use client';

import { Box, chakra, Flex, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { usePathname } from 'next/navigation';
import { ROOMS, type Room, type RoomState } from '@/core/session/readiness';

const Link = chakra(NextLink);

const NAMES: Record<Room, string> = { prepare: 'Prepare', sounds: 'Sounds', hearing: 'Hearing', check: 'Check', live: 'Live', takes: 'Takes' };

/** The room that is shown; null in one that is apart. */
export function useRoomHere(): Room | null {
  const part = usePathname().split('/')[3];
  return ROOMS.find((room) => room === part) ?? null;
}

/** The rooms of an episode in the order of the work, each with its state. */
export function RoomLinks({ episode, states }: { episode: string; states?: Record<Room, RoomState> }) {
  const here = useRoomHere();
  return (
    <Flex as="nav" aria-label="Episode" gap="0" flex={{ base: '0 1 auto', lg: 'none' }} wrap={{ base: 'wrap', lg: 'nowrap' }}>
      {ROOMS.map((room) => {
        const isHere = room === here;
        const state = states?.[room];
        return (
          <Link
            key={room}
            href={`/episodes/${episode}/${room}`}
            aria-current={isHere ? 'page' : undefined}
            aria-label={NAMES[room]}
            aria-description={state?.words}
            title={state?.words}
            display="flex"
            alignItems="center"
            gap="6px"
            px={{ base: '5px', xl: '6px', '2xl': '10px' }}
            py="7px"
            fontSize={{ base: '14px', xl: '15px' }}
            borderRadius="full"
            color={isHere ? 'text' : 'soft'}
            bg={isHere ? 'raised' : 'transparent'}
            _hover={{ color: 'text' }}
          >
            {state && <Mark state={state} />}
            {NAMES[room]}
          </Link>
        );
      })}
    </Flex>
  );
}

/** A light where all is ready or something runs, a number where something is to be done, nothing where nothing is yet. */
function Mark({ state: { state, count } }: { state: RoomState }) {
  if (state === 'todo') {
    return (
      <Text as="span" aria-hidden minW="18px" h="18px" px="5px" borderRadius="full" bg="lampGround" color="lampCore" borderWidth="1px" borderColor="lamp" fontSize="12px" fontWeight="700" lineHeight="16px" textAlign="center">
        {count}
      </Text>
    );
  }
  if (state === 'empty') return null;
  return <Box as="span" aria-hidden display={{ base: state === 'running' ? 'block' : 'none', xl: 'block' }} boxSize="8px" flex="none" borderRadius="full" bg={state === 'ready' ? 'well' : 'tide'} />;
}
