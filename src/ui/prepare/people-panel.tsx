'use client';

import { Flex, Grid } from '@chakra-ui/react';
import { Cable, UserPlus } from 'lucide-react';
import { useState } from 'react';
import { missingOf } from '@/core/session/readiness';
import { ControlButton } from '../shell/control-button';
import { useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { useWorkFacts } from '../shell/work-facts';
import { NewPairLine } from '../devices/new-pair-line';
import { AllInvitations } from './all-invitations';
import type { Made } from './made-link';
import { NewPeople } from './new-people';
import { PersonCard } from './person-card';

/** Who is in the episode, a card each, and the ways to add somebody. */
export function PeoplePanel({ known }: { known: string[] }) {
  const seats = useDeskState((state) => state.seats);
  const facts = useWorkFacts();
  const [adding, setAdding] = useState<'link' | 'pair' | null>(seats.length === 1 ? 'link' : null);
  const [made, setMade] = useState<Record<string, Made | null>>({});
  const keep = (seat: string, link: Made | null): void => setMade((before) => ({ ...before, [seat]: link }));
  return (
    <Panel
      title="People"
      action={
        <Flex gap="8px" ml="auto" wrap="wrap" justify="flex-end">
          {adding === null && <AllInvitations made={made} />}
          <ControlButton h="30px" aria-expanded={adding === 'link'} onClick={() => setAdding('link')}>
            <UserPlus size={15} /> Add somebody
          </ControlButton>
          <ControlButton h="30px" aria-expanded={adding === 'pair'} title="By any other call program, a telephone, a second computer, or somebody in the room." onClick={() => setAdding('pair')}>
            <Cable size={15} /> Add somebody by another program
          </ControlButton>
        </Flex>
      }
    >
      {adding === 'link' && <NewPeople known={known} onMade={keep} onDone={() => setAdding(null)} />}
      {adding === 'pair' && <NewPairLine onDone={() => setAdding(null)} />}
      <Grid templateColumns="repeat(auto-fill, minmax(272px, 1fr))" gap="10px" mt={adding === null ? '4px' : '12px'}>
        {seats.map((seat) => (
          <PersonCard key={seat.id} seat={seat} missing={missingOf(facts, seat.id)} made={made[seat.id] ?? null} onMade={(link) => keep(seat.id, link)} />
        ))}
      </Grid>
    </Panel>
  );
}
