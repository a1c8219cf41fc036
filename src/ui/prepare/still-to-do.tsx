'use client';

import { Box, chakra, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { missingInPrepare } from '@/core/session/readiness';
import { counted } from '../plural';
import { useDesk } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { useWorkFacts } from '../shell/work-facts';

const Link = chakra(NextLink);

/** What is missing before the call: what the host can do, and what is waited for. */
export function StillToDo() {
  const missing = missingInPrepare(useWorkFacts());
  const { id } = useDesk().data.episode;
  const todo = missing.filter(({ waits }) => !waits).length;
  return (
    <Panel title="Still to do" aside={todo === 0 ? 'nothing here' : counted(todo, 'thing')}>
      <Box aria-live="polite" fontSize="14px">
        {missing.length === 0 && <Text color="soft">Nothing is missing that the desk knows of.</Text>}
        {missing.map(({ words, waits }) => (
          <Text key={words} color={waits ? 'soft' : 'text'} mb="6px">
            {words}
          </Text>
        ))}
      </Box>
      <Text fontSize="13px" color="soft" mt="8px" pt="8px" borderTopWidth="1px" borderColor="hairline">
        Sound of other programs, outlets for the program, loudspeakers in a room:{' '}
        <Link href={`/episodes/${id}/hearing/in-and-out`} color="lampCore" textDecoration="underline">
          In and out
        </Link>
      </Text>
    </Panel>
  );
}
