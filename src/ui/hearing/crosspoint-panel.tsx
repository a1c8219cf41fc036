'use client';

import { Flex, Input, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { backToRule } from '@/core/hearing/audit/index';
import { setCrosspoint } from '@/core/hearing/edit';
import { crosspointOf, exceptionAt, operandFor } from '@/core/hearing/operands';
import { HIGHEST_DB, LOWEST_DB, type Listener, type Source } from '@/core/hearing/plan';
import { formatDb } from '../format';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { LevelSlider } from '../shell/level-slider';
import { Panel } from '../shell/panel';
import { LEVEL_FIELD } from './hearing-grid';

/** The selected crosspoint: lit or dark, its level, and the way back to its rule. */
export function CrosspointPanel({ source, listener }: { source: Source; listener: Listener }) {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const operand = operandFor(source, listener);
  if (!operand) return null;
  const point = crosspointOf(plan, operand);
  const byHand = exceptionAt(plan, listener.id, source.id) !== undefined;
  const set = (change: { open?: boolean; gainDb?: number }) =>
    desk.plan.change(
      (current) => setCrosspoint(current, source.id, listener.id, { ...point, ...change }),
      change.gainDb === undefined ? '' : `level:${source.id}:${listener.id}`,
    );
  return (
    <Panel title={`${source.name} → ${listener.name}`} aside={byHand ? 'changed by hand' : 'as the rule says'}>
      <Flex align="center" gap="10px">
        <ControlButton tone={point.open ? 'lit' : 'plain'} aria-pressed={point.open} onClick={() => set({ open: !point.open })}>
          {point.open ? 'Lit' : 'Dark'}
        </ControlButton>
        <LevelField key={`${source.id} ${listener.id} ${point.gainDb}`} gainDb={point.gainDb} onSet={(gainDb) => set({ open: true, gainDb })} />
        <Text fontFamily="heading" fontWeight="700" fontSize="19px" ml="auto">
          {point.open ? formatDb(point.gainDb) : 'closed'}
        </Text>
      </Flex>
      <LevelSlider
        label={`Level of ${source.name} in ${listener.name}`}
        value={point.gainDb}
        min={LOWEST_DB}
        max={HIGHEST_DB}
        disabled={!point.open}
        onChange={(gainDb) => set({ gainDb })}
      />
      {byHand && (
        <ControlButton mt="6px" h="30px" onClick={() => desk.plan.change((current) => backToRule(current, source.id, listener.id))}>
          Back to the rule
        </ControlButton>
      )}
    </Panel>
  );
}

/** A level typed in dB. What is no level is said, and nothing changes. */
function LevelField({ gainDb, onSet }: { gainDb: number; onSet(db: number): void }) {
  const [text, setText] = useState(String(gainDb));
  const db = Number(text.replace('−', '-').replace(',', '.'));
  const valid = text.trim() !== '' && db >= LOWEST_DB && db <= HIGHEST_DB;
  return (
    <Input
      id={LEVEL_FIELD}
      size="sm"
      w="72px"
      aria-label="Level in dB"
      aria-invalid={!valid}
      title={`From ${LOWEST_DB} to +${HIGHEST_DB} dB`}
      value={text}
      borderColor={valid ? 'hairline' : 'ember'}
      onChange={(event) => setText(event.target.value)}
      onFocus={(event) => event.target.select()}
      onBlur={() => setText(String(gainDb))}
      onKeyDown={(event) => {
        if (event.key === 'Enter' && valid) onSet(db);
      }}
    />
  );
}
