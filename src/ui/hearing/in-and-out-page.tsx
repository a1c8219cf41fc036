'use client';

import { Flex, Grid } from '@chakra-ui/react';
import type { HearingPlan } from '@/core/hearing/plan';
import { InputsPanel } from '../devices/inputs-panel';
import { MadeUpPanel } from '../devices/made-up-panel';
import { OutletsPanel } from '../devices/outlets-panel';
import { AuditPanel } from './audit-panel';
import { HearingTabs } from './hearing-tabs';
import { OutsidePanel } from './outside-panel';
import { StartingPlansPanel } from './starting-plans-panel';

/** What comes in and leaves beside the people, what happens outside the desk, and plans to start from. */
export function InAndOutPage({ startingPlans }: { startingPlans: { name: string; plan: HearingPlan }[] }) {
  return (
    <Flex as="main" direction="column" gap="10px" p="12px" flex="1" minH="0" overflowY="auto">
      <HearingTabs />
      <Grid templateColumns={{ base: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) minmax(0, 1fr) 264px', xl: 'minmax(0, 1fr) minmax(0, 1fr) 312px' }} gap="12px" alignItems="start">
        <Flex direction="column" gap="10px">
          <InputsPanel />
          <OutletsPanel />
        </Flex>
        <Flex direction="column" gap="10px">
          <OutsidePanel />
          <MadeUpPanel />
          <StartingPlansPanel kept={startingPlans} />
        </Flex>
        <AuditPanel />
      </Grid>
    </Flex>
  );
}
