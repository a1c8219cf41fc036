'use client';

import { Flex, Input, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { HearingPlan } from '@/core/hearing/plan';
import { startFrom } from '@/core/hearing/start-from';
import { sendJson } from '@/live/api';
import { ControlButton } from '../shell/control-button';
import { useDesk } from '../shell/desk-context';
import { Panel } from '../shell/panel';

/** Plans the show keeps as starting points. */
export function StartingPlansPanel({ kept }: { kept: { name: string; plan: HearingPlan }[] }) {
  const desk = useDesk();
  const [plans, setPlans] = useState(kept);
  const [name, setName] = useState('');
  const [said, setSaid] = useState('');
  const keep = async () => {
    const wanted = name.trim();
    const { plan } = desk.store.getState();
    try {
      await sendJson('PUT', `/api/shows/${desk.data.episode.showId}/plans`, { name: wanted, plan });
      setPlans([...plans.filter((one) => one.name !== wanted), { name: wanted, plan }]);
      setName('');
      setSaid(`“${wanted}” is saved for this show.`);
    } catch (error) {
      setSaid(`It was not saved. ${(error as Error).message}`);
    }
  };
  const begin = (chosen: { name: string; plan: HearingPlan }) => {
    desk.plan.change((plan) => startFrom(plan, chosen.plan));
    setSaid(`The plan is “${chosen.name}” now. Undo in the grid takes it back.`);
  };
  return (
    <Panel title="Plans to start from" aside={plans.length === 0 ? 'none saved yet' : undefined}>
      {plans.map((one) => (
        <Flex key={one.name} align="center" justify="space-between" mb="6px">
          <Text fontSize="14px">{one.name}</Text>
          <ControlButton h="28px" aria-label={`Use the plan ${one.name}`} onClick={() => begin(one)}>
            Use this plan
          </ControlButton>
        </Flex>
      ))}
      <Flex gap="7px">
        <Input size="sm" maxLength={60} aria-label="Name for this plan" placeholder="three guests, with music …" value={name} borderColor="hairline" onChange={(event) => setName(event.target.value)} />
        <ControlButton h="32px" disabled={name.trim() === ''} onClick={() => void keep()}>
          Save this plan
        </ControlButton>
      </Flex>
      <Text role="status" fontSize="13px" color="soft" mt="6px" minH="18px">
        {said}
      </Text>
    </Panel>
  );
}
