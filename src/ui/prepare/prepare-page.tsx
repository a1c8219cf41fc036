'use client';

import { Flex, Grid } from '@chakra-ui/react';
import type { HearingPlan } from '@/core/hearing/plan';
import { AuditPanel } from '../hearing/audit-panel';
import { InputsPanel } from '../devices/inputs-panel';
import { MadeUpPanel } from '../devices/made-up-panel';
import { MySoundPanel } from '../devices/my-sound-panel';
import { OutletsPanel } from '../devices/outlets-panel';
import { GroupsPanel } from './groups-panel';
import { HabitsPanel } from './habits-panel';
import { KeysPanel } from './keys-panel';
import { NamedPlansPanel } from './named-plans-panel';
import { OutsidePanel } from './outside-panel';
import { RecordedPanel } from './recorded-panel';
import { PeoplePanel } from './people-panel';

/** Before the call: who is in it, what happens outside the desk, where the plan begins, and the keys. */
export function PreparePage({ namedPlans, known }: { namedPlans: { name: string; plan: HearingPlan }[]; known: string[] }) {
  return (
    <Grid as="main" templateColumns="minmax(0, 1fr) minmax(0, 1fr) 312px" gap="12px" p="12px" flex="1" minH="0" overflowY="auto" alignContent="start">
      <Flex direction="column" gap="10px">
        <MySoundPanel />
        <PeoplePanel known={known} />
        <InputsPanel />
        <OutletsPanel />
        <NamedPlansPanel kept={namedPlans} />
      </Flex>
      <Flex direction="column" gap="10px">
        <MadeUpPanel />
        <OutsidePanel />
        <GroupsPanel />
        <RecordedPanel />
        <HabitsPanel />
      </Flex>
      <Flex direction="column" gap="10px">
        <AuditPanel />
        <KeysPanel />
      </Flex>
    </Grid>
  );
}
