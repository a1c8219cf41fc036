'use client';

import { Box, Flex, Input, NativeSelect, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { declareCoupling, type Coupling, type CouplingFrom, type CouplingKind, type CouplingTo } from '@/core/hearing/coupling';
import { earsOf, returnOf, shareOf, voiceOf } from '@/core/hearing/ids';
import { placeName } from '@/core/hearing/names';
import type { ObservedCoupling } from '@/core/hearing/observation';
import { listenersOf, type HearingPlan } from '@/core/hearing/plan';
import { formatDb } from '../format';
import { LocalTime } from '../local-time';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';

interface Choice {
  words: string;
  kind: CouplingKind;
  from: CouplingFrom;
  to: CouplingTo;
}

/** Ways sound takes outside the desk: what the audit cannot see until it is told. */
export function OutsidePanel() {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const choices = possibleCouplings(plan).filter(({ kind, from, to }) => !plan.couplings.some((one) => one.kind === kind && one.from === from && one.to === to));
  const observations = useDeskState((state) => state.observations);
  const observed = observations.filter((one) => one.of === 'coupling');
  const [chosen, setChosen] = useState(0);
  const add = () => {
    const choice = choices[chosen] ?? choices[0];
    if (choice) desk.plan.change((before) => ({ ...before, couplings: [...before.couplings, declareCoupling(choice.kind, choice.from, choice.to)] }));
    setChosen(0);
  };
  return (
    <Panel title="Outside the desk" aside="what the audit should know">
      {plan.couplings.length + observed.length === 0 && (
        <Text fontSize="14px" color="soft" mb="8px">
          Nothing is noted. The audit then takes it that everybody wears headphones and that nothing is fed back.
        </Text>
      )}
      {plan.couplings.map((coupling) => (
        <CouplingRow key={coupling.id} coupling={coupling} words={couplingWords(plan, coupling)} />
      ))}
      {observed.map((one) => (
        <ObservedRow key={one.coupling.id} observed={one} words={couplingWords(plan, one.coupling)} />
      ))}
      <Flex gap="7px" mt="10px">
        <NativeSelect.Root size="sm" flex="1">
          <NativeSelect.Field aria-label="What happens outside" value={chosen} borderColor="hairline" bg="raised" onChange={(event) => setChosen(Number(event.target.value))}>
            {choices.map(({ words }, place) => (
              <option key={words} value={place}>
                {words}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        <ControlButton h="32px" disabled={choices.length === 0} onClick={add}>
          Add
        </ControlButton>
      </Flex>
    </Panel>
  );
}

function CouplingRow({ coupling, words }: { coupling: Coupling; words: string }) {
  const desk = useDesk();
  const set = (change: Partial<Coupling>) =>
    desk.plan.change(
      (plan) => ({ ...plan, couplings: plan.couplings.map((one) => (one.id === coupling.id ? { ...one, ...change, measured: false, by: undefined, at: undefined } : one)) }),
      `coupling:${coupling.id}`,
    );
  return (
    <Box role="group" aria-label={words} py="8px" _notFirst={{ borderTopWidth: '1px', borderColor: 'hairline' }}>
      <Text fontSize="14px">{words}</Text>
      <Flex gap="8px" align="center" mt="5px" fontSize="13px" color="soft" wrap="wrap">
        <NumberField label="Level in dB" value={coupling.gainDb} min={-100} max={40} onSet={(gainDb) => set({ gainDb })} /> dB after
        <NumberField label="Delay in ms" value={coupling.delayMs} min={0} max={10000} onSet={(delayMs) => set({ delayMs })} /> ms
        <Text ml="4px">
          <HowKnown coupling={coupling} />
        </Text>
        <ControlButton ml="auto" h="28px" onClick={() => desk.plan.apply([{ type: 'remove-coupling', id: coupling.id }])}>
          Remove
        </ControlButton>
      </Flex>
    </Box>
  );
}

/** What was measured: it counts already, and may be kept for another day. */
function ObservedRow({ observed, words }: { observed: ObservedCoupling; words: string }) {
  const desk = useDesk();
  const { coupling } = observed;
  const forget = () => desk.plan.forget((one) => one === observed);
  const keep = () => {
    desk.plan.change((plan) => ({ ...plan, couplings: [...plan.couplings.filter(({ id }) => id !== coupling.id), coupling] }));
    forget();
  };
  return (
    <Box role="group" aria-label={`${words}, measured`} py="8px" _notFirst={{ borderTopWidth: '1px', borderColor: 'hairline' }}>
      <Text fontSize="14px">{words}</Text>
      <Flex gap="8px" align="center" mt="5px" fontSize="13px" color="soft" wrap="wrap">
        <Text fontFamily="mono" color="text">
          {formatDb(coupling.gainDb)} after {coupling.delayMs} ms
        </Text>
        <Text>
          <HowKnown coupling={coupling} />
        </Text>
        <ControlButton ml="auto" h="28px" title="Noted in the plan, it counts in later calls as well." onClick={keep}>
          Keep as a note
        </ControlButton>
        <ControlButton h="28px" onClick={forget}>
          Forget
        </ControlButton>
      </Flex>
    </Box>
  );
}

function HowKnown({ coupling: { measured, by, at } }: { coupling: Coupling }) {
  if (!measured) return 'typical or typed';
  return (
    <>
      measured{by && ` by ${by}`}
      {at && (
        <>
          , <LocalTime at={at} />
        </>
      )}
    </>
  );
}

interface NumberFieldProps {
  label: string;
  value: number;
  min: number;
  max: number;
  onSet(value: number): void;
}

function NumberField({ label, value, min, max, onSet }: NumberFieldProps) {
  return (
    <Input
      type="number"
      size="xs"
      w="74px"
      flex="none"
      aria-label={label}
      min={min}
      max={max}
      value={value}
      borderColor="hairline"
      color="text"
      onChange={(event) => {
        const next = event.target.valueAsNumber;
        if (next >= min && next <= max) onSet(next);
      }}
    />
  );
}

/** Everything that can be noted for the people of this plan, in words. */
function possibleCouplings(plan: HearingPlan): Choice[] {
  const listeners = listenersOf(plan);
  const callers = plan.seats.filter(({ role }) => role === 'caller');
  const host = plan.seats.filter(({ role }) => role === 'host');
  const choice = (kind: CouplingKind, from: CouplingFrom, to: CouplingTo): Choice => ({
    kind,
    from,
    to,
    words: couplingWords(plan, { kind, from, to }),
  });
  return [
    ...[...host, ...callers].map(({ id }) => choice('loudspeakers', earsOf(id), voiceOf(id))),
    ...callers.map(({ id }) => choice('far-system', returnOf(id), voiceOf(id))),
    ...callers.map(({ id }) => choice('other-return', 'program', earsOf(id))),
    ...[...host, ...callers].flatMap((a) => callers.filter((b) => b.id !== a.id).map((b) => choice('same-room', voiceOf(a.id), voiceOf(b.id)))),
    ...plan.shares.flatMap(({ id }) => host.map((one) => choice('share-contains', `phones:${one.id}`, shareOf(id)))),
    ...listeners.flatMap((listener) => (listener.kind === 'feed' ? callers.map(({ id }) => choice('output-into-input', listener.id, voiceOf(id))) : [])),
  ];
}

function couplingWords(plan: HearingPlan, { kind, from, to }: Pick<Coupling, 'kind' | 'from' | 'to'>): string {
  const source = placeName(plan, to);
  switch (kind) {
    case 'loudspeakers':
      return `${source} listens on loudspeakers`;
    case 'far-system':
      return `${source}’s system sends the call back`;
    case 'other-return':
      return `${source} get ${placeName(plan, from)} as well`;
    case 'same-room':
      return `${source} sits in one room with ${placeName(plan, from)}`;
    case 'share-contains':
      return `${source} contains the call`;
    case 'output-into-input':
      return `${placeName(plan, from)} is plugged into ${source}’s line`;
  }
}
