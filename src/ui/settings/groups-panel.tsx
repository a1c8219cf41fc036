'use client';

import { Checkbox, Flex, Input, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { listInWords } from '@/core/hearing/names';
import { freeId } from '../free-id';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';

/** Callers to talk to at once. Each group gets a button beside “Talk to all” in Live. */
export function GroupsPanel() {
  const desk = useDesk();
  const groups = useDeskState(({ plan }) => plan.groups);
  const seats = useDeskState(({ plan }) => plan.seats);
  const callers = seats.filter(({ role }) => role === 'caller');
  const [name, setName] = useState('');
  const [chosen, setChosen] = useState<string[]>([]);
  const add = () => {
    const id = freeId(name, groups.map((group) => group.id));
    desk.plan.change((plan) => ({ ...plan, groups: [...plan.groups, { id, name: name.trim(), seats: chosen }] }));
    setName('');
    setChosen([]);
  };
  const nameOf = (id: string) => seats.find((seat) => seat.id === id)?.name ?? id;
  return (
    <Panel title="Groups to talk to" aside={groups.length === 0 ? 'all callers, always' : undefined}>
      {groups.map((group) => (
        <Flex key={group.id} align="center" justify="space-between" mb="6px" fontSize="14px">
          <Text>
            {group.name}: {listInWords(group.seats.map(nameOf))}
          </Text>
          <ControlButton
            h="28px"
            aria-label={`Remove the group ${group.name}`}
            onClick={() => desk.plan.change((plan) => ({ ...plan, groups: plan.groups.filter(({ id }) => id !== group.id) }))}
          >
            Remove
          </ControlButton>
        </Flex>
      ))}
      <Flex wrap="wrap" gap="12px" mb="8px">
        {callers.map(({ id, name: callerName }) => (
          <Checkbox.Root
            key={id}
            size="sm"
            checked={chosen.includes(id)}
            onCheckedChange={({ checked }) => setChosen(checked === true ? [...chosen, id] : chosen.filter((one) => one !== id))}
          >
            <Checkbox.HiddenInput />
            <Checkbox.Control borderColor="faint" _checked={{ bg: 'lamp', borderColor: 'lamp', color: 'onLight' }} />
            <Checkbox.Label fontSize="14px">{callerName}</Checkbox.Label>
          </Checkbox.Root>
        ))}
      </Flex>
      <Flex gap="7px">
        <Input size="sm" maxLength={30} aria-label="Name of a new group" placeholder="the crew …" value={name} borderColor="hairline" onChange={(event) => setName(event.target.value)} />
        <ControlButton h="32px" disabled={name.trim() === '' || chosen.length === 0 || groups.length >= 6} onClick={add}>
          Add the group
        </ControlButton>
      </Flex>
    </Panel>
  );
}
