'use client';

import { Box, chakra, Text } from '@chakra-ui/react';
import { useEffect } from 'react';
import type { Seat } from '@/core/hearing/plan';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { PersonSound } from './person-sound';

const Head = chakra('th');
const HEADS = ['who', 'speech, LUFS', 'room, dBFS', 'their headphones', 'on the way', 'what they hear'];

/** One row a person, the host included, that fills while they talk. */
export function PeopleSound() {
  const desk = useDesk();
  const call = useDeskState((state) => state.call);
  const seats = useDeskState((state) => state.plan.seats);
  useEffect(() => {
    desk.voices.want(true);
    return () => desk.voices.want(false);
  }, [desk]);
  const people = seats.filter(({ role }) => role !== 'producer');
  return (
    <Panel title="Everybody’s sound" aside={call === 'running' ? 'fills while they talk' : 'fills once the call runs'}>
      <Box overflowX="auto" tabIndex={0} role="region" aria-label="How everybody sounds">
        <Box as="table" w="100%" css={{ borderCollapse: 'collapse', '& td, & th': { padding: people.length > 8 ? '4px 8px' : '7px 8px', textAlign: 'left', verticalAlign: 'middle' }, '& tbody tr': { borderTop: '1px solid var(--chakra-colors-hairline)' } }}>
          <thead>
            <tr>
              {HEADS.map((head) => (
                <Head key={head} scope="col" fontSize="12.5px" color="soft" fontWeight="400" whiteSpace="nowrap">
                  {head}
                </Head>
              ))}
              <Head>
                <Text srOnly>what to do</Text>
              </Head>
            </tr>
          </thead>
          <tbody>
            {people.map((seat: Seat) => (
              <PersonSound key={seat.id} seat={seat} />
            ))}
          </tbody>
        </Box>
      </Box>
    </Panel>
  );
}
