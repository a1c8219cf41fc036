'use client';

import { Flex, NativeSelect, Text } from '@chakra-ui/react';
import { backToRule } from '@/core/hearing/audit/index';
import { setListener } from '@/core/hearing/edit';
import { HEARING_RULES, listenerSettings, type HearingRule, type Listener } from '@/core/hearing/plan';
import { listenerName } from '@/core/hearing/names';
import { RULE_IN_WORDS } from '@/core/hearing/sentences';
import { formatDb } from '../format';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { LevelSlider } from '../shell/level-slider';
import { Panel } from '../shell/panel';
import { Tick } from './tick';

/** A whole column: what it hears in one choice, and how loud. */
export function ListenerPanel({ listener }: { listener: Listener }) {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const { rule, levelDb, asTheyCome } = listenerSettings(plan, listener.id);
  const handmade = Object.keys(plan.exceptions[listener.id] ?? {}).length;
  return (
    <Panel title={listener.name} aside={listenerName(listener)}>
      <NativeSelect.Root size="sm">
        <NativeSelect.Field
          aria-label={`What ${listenerName(listener)} carries`}
          value={rule}
          borderColor="hairline"
          bg="raised"
          onChange={(event) => desk.plan.change((current) => setListener(current, listener.id, { rule: event.target.value as HearingRule }))}
        >
          {HEARING_RULES.map((one) => (
            <option key={one} value={one}>
              {RULE_IN_WORDS[one]}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      <Flex justify="space-between" fontSize="13px" mt="10px">
        <Text color="soft">Level of the whole mix</Text>
        <Text>{formatDb(levelDb)}</Text>
      </Flex>
      <LevelSlider
        label={`Level of ${listenerName(listener)}`}
        value={levelDb}
        min={-36}
        max={12}
        onChange={(db) => desk.plan.change((current) => setListener(current, listener.id, { levelDb: db }), `mix:${listener.id}`)}
      />
      <Flex mt="8px">
        <Tick checked={asTheyCome} title="Without what their strips do; for somebody who records or mixes by themselves." onChange={(next) => desk.plan.change((current) => setListener(current, listener.id, { asTheyCome: next }))}>
          voices as they come in, without their strips
        </Tick>
      </Flex>
      <ControlButton mt="6px" h="30px" disabled={handmade === 0} onClick={() => desk.plan.change((current) => backToRule(current, null, listener.id))}>
        {handmade === 0 ? 'Nothing changed by hand' : `${handmade} changed by hand: back to the rule`}
      </ControlButton>
    </Panel>
  );
}
