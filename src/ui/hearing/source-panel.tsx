'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { backToRule } from '@/core/hearing/audit/index';
import { setCrosspoint, setSource } from '@/core/hearing/edit';
import { operandFor } from '@/core/hearing/operands';
import { listenersOf, sourceSettings, type ListenerKind, type Source } from '@/core/hearing/plan';
import { stripOf } from '@/core/hearing/processing';
import { stripInWords } from '@/core/strip/words';
import { formatDb } from '../format';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { LevelSlider } from '../shell/level-slider';
import { Panel } from '../shell/panel';
import { StripButton } from '../strip/strip-button';
import { Tick } from './tick';

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
    desk.plan.change((current) => setSource(current, source.id, change), control);
  const setRow = (open: boolean) =>
    desk.plan.change((current) =>
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
            <Tick key={kind} checked={offIn.includes(kind)} onChange={(checked) => set({ offIn: checked ? [...offIn, kind] : offIn.filter((one) => one !== kind) })}>
              {words}
            </Tick>
          ))}
        </Flex>
      </Box>
      {source.kind !== 'talkback' && <Strip source={source} />}
      <Flex gap="7px" mt="10px" wrap="wrap">
        <ControlButton h="30px" onClick={() => setRow(true)}>
          Light the row
        </ControlButton>
        <ControlButton h="30px" onClick={() => setRow(false)}>
          Darken it
        </ControlButton>
        <ControlButton h="30px" onClick={() => desk.plan.change((current) => backToRule(current, source.id, null))}>
          Back to the rules
        </ControlButton>
      </Flex>
    </Panel>
  );
}

/** What is done to a source before the mixes get it. */
function Strip({ source }: { source: Source }) {
  const strip = useDeskState(({ plan }) => stripOf(plan, source.id));
  return (
    <Flex mt="10px" gap="10px" align="center">
      <StripButton source={source} h="30px" flex="none" />
      <Text fontSize="13px" color="soft" lineHeight="1.3">
        Into the mixes: {stripInWords(strip)}. The track stays as it is.
      </Text>
    </Flex>
  );
}
