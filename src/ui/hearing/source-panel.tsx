'use client';

import { Box, Checkbox, Flex, Text } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { LOW_CUT_HZ, THRESHOLD_DB } from '@/core/dsp/voice-strip';
import { backToRule } from '@/core/hearing/audit/index';
import { setCrosspoint, setProcessing, setSource } from '@/core/hearing/edit';
import { operandFor } from '@/core/hearing/operands';
import { listenersOf, sourceSettings, type ListenerKind, type Source } from '@/core/hearing/plan';
import { processingOf, type VoiceProcessing } from '@/core/hearing/processing';
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
      {source.kind === 'voice' && <Processing source={source} />}
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

/** What is done to a voice before the mixes get it. */
function Processing({ source }: { source: Source }) {
  const desk = useDesk();
  const processing = useDeskState(({ plan }) => processingOf(plan, source.id));
  const set = (change: Partial<VoiceProcessing>) => desk.plan.change((plan) => setProcessing(plan, source.id, change));
  return (
    <Box role="group" aria-label={`What is done to ${source.name}’s voice`} mt="10px">
      <Text fontSize="13px" color="soft" mb="4px">
        Into the mixes; the track stays as it is
      </Text>
      <Flex wrap="wrap" gap="10px">
        <Tick checked={processing.lowCut} title={`Takes away what is below ${LOW_CUT_HZ} Hz: steps, traffic, wind.`} onChange={(lowCut) => set({ lowCut })}>
          cut the rumble
        </Tick>
        <Tick checked={processing.evenOut} title={`Above ${THRESHOLD_DB.toString().replace('-', '−')} dBFS a voice rises by a third only. Nothing is made louder.`} onChange={(evenOut) => set({ evenOut })}>
          hold loud words down
        </Tick>
      </Flex>
    </Box>
  );
}

function Tick({ checked, title, onChange, children }: { checked: boolean; title?: string; onChange(checked: boolean): void; children: ReactNode }) {
  return (
    <Checkbox.Root size="sm" checked={checked} title={title} onCheckedChange={(now) => onChange(now.checked === true)}>
      <Checkbox.HiddenInput />
      <Checkbox.Control borderColor="faint" _checked={{ bg: 'lamp', borderColor: 'lamp', color: 'onLight' }} />
      <Checkbox.Label fontSize="13.5px">{children}</Checkbox.Label>
    </Checkbox.Root>
  );
}
