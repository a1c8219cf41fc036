'use client';

import { Box, Checkbox, Flex, Text } from '@chakra-ui/react';
import { backToRule } from '@/core/hearing/audit/index';
import { setCrosspoint, setSource } from '@/core/hearing/edit';
import { operandFor } from '@/core/hearing/operands';
import { listenersOf, sourceSettings, type ListenerKind, type Source } from '@/core/hearing/plan';
import { formatDb } from '../format';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { LevelSlider } from '../shell/level-slider';
import { Panel } from '../shell/panel';

const KINDS: [ListenerKind, string][] = [
  ['phones', 'my phones'],
  ['return', 'the callers'],
  ['program', 'the program'],
  ['feed', 'the feeds'],
];

/** A whole row: gain, balance, and the kinds of mix it is kept out of. */
export function SourcePanel({ source }: { source: Source }) {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const { trimDb, balance, offIn } = sourceSettings(plan, source.id);
  const set = (change: Parameters<typeof setSource>[2], control = '') =>
    desk.changePlan((current) => setSource(current, source.id, change), control);
  const setRow = (open: boolean) =>
    desk.changePlan((current) =>
      listenersOf(current).reduce(
        (changed, listener) =>
          operandFor(source, listener) ? setCrosspoint(changed, source.id, listener.id, { open, gainDb: 0 }) : changed,
        current,
      ),
    );
  return (
    <Panel title={source.name} aside="the whole row">
      <Flex justify="space-between" fontSize="13px">
        <Text color="soft">Gain in every mix</Text>
        <Text>{formatDb(trimDb)}</Text>
      </Flex>
      <LevelSlider label={`Gain of ${source.name}`} value={trimDb} min={-24} max={12} onChange={(db) => set({ trimDb: db }, `trim:${source.id}`)} />
      <Flex justify="space-between" fontSize="13px">
        <Text color="soft">Balance</Text>
        <Text>{balance === 0 ? 'middle' : `${Math.round(Math.abs(balance) * 100)}% ${balance < 0 ? 'left' : 'right'}`}</Text>
      </Flex>
      <LevelSlider label={`Balance of ${source.name}`} unit="" value={balance} min={-1} max={1} step={0.1} onChange={(value) => set({ balance: value }, `balance:${source.id}`)} />
      <Box role="group" aria-label={`Keep ${source.name} out of`} mt="4px">
        <Text fontSize="13px" color="soft" mb="4px">
          Keep out of
        </Text>
        <Flex wrap="wrap" gap="10px">
          {KINDS.map(([kind, words]) => (
            <Checkbox.Root
              key={kind}
              size="sm"
              checked={offIn.includes(kind)}
              onCheckedChange={({ checked }) => set({ offIn: checked === true ? [...offIn, kind] : offIn.filter((one) => one !== kind) })}
            >
              <Checkbox.HiddenInput />
              <Checkbox.Control borderColor="faint" _checked={{ bg: 'lamp', borderColor: 'lamp', color: 'onLight' }} />
              <Checkbox.Label fontSize="13.5px">{words}</Checkbox.Label>
            </Checkbox.Root>
          ))}
        </Flex>
      </Box>
      <Flex gap="7px" mt="10px" wrap="wrap">
        <ControlButton h="30px" onClick={() => setRow(true)}>
          Light the row
        </ControlButton>
        <ControlButton h="30px" onClick={() => setRow(false)}>
          Darken it
        </ControlButton>
        <ControlButton h="30px" onClick={() => desk.changePlan((current) => backToRule(current, source.id, null))}>
          Back to the rules
        </ControlButton>
      </Flex>
    </Panel>
  );
}
