'use client';

import { Box, Checkbox, Flex, Popover, Portal, Text } from '@chakra-ui/react';
import { setCrosspoint, setDucking } from '@/core/hearing/edit';
import { duckingOf } from '@/core/hearing/ducking';
import { crosspointOf, operandFor } from '@/core/hearing/operands';
import { listenersOf, type HearingPlan, type Listener, type ListenerKind, type Source } from '@/core/hearing/plan';
import { formatDb } from '../format';
import { ControlButton } from '../shell/control-button';
import { LevelSlider } from '../shell/level-slider';
import { useDesk, useDeskState } from '../shell/desk-context';

const WHO: { kind: ListenerKind; words: string }[] = [
  { kind: 'return', words: 'Callers' },
  { kind: 'program', words: 'Program' },
  { kind: 'phones', words: 'My phones' },
];

/** How loud callers, program and phones hear a sound: its crosspoints, one gesture away. */
export function SoundLevels({ source, h = '32px' }: { source: Source; h?: string }) {
  const plan = useDeskState((state) => state.plan);
  return (
    <Popover.Root positioning={{ placement: 'left-start' }} lazyMount unmountOnExit>
      <Popover.Trigger asChild>
        <ControlButton px="0" h={h} fontSize="13px" aria-label={`How loud each hears ${source.name}`}>
          Levels
        </ControlButton>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content bg="raised" borderWidth="1px" borderColor="hairline" w="300px" aria-label={`How loud each hears ${source.name}`}>
            <Popover.Body py="10px">
              {WHO.map(({ kind, words }) => (
                <KindLevel key={kind} plan={plan} source={source} kind={kind} words={words} />
              ))}
              <UnderVoices source={source} />
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  );
}

interface KindLevelProps {
  plan: HearingPlan;
  source: Source;
  kind: ListenerKind;
  words: string;
}

function KindLevel({ plan, source, kind, words }: KindLevelProps) {
  const desk = useDesk();
  const points = listenersOf(plan)
    .filter((listener) => listener.kind === kind)
    .flatMap((listener) => {
      const operand = operandFor(source, listener);
      return operand ? [{ listener, point: crosspointOf(plan, operand) }] : [];
    });
  if (points.length === 0) return null;
  const [first] = points;
  const open = points.some(({ point }) => point.open);
  const uneven = points.some(({ point }) => point.gainDb !== first.point.gainDb || point.open !== first.point.open);
  const set = (change: (listener: Listener, gainDb: number) => { open: boolean; gainDb: number }, control: string) =>
    desk.plan.change((now) => points.reduce((next, { listener, point }) => setCrosspoint(next, source.id, listener.id, change(listener, point.gainDb)), now), control);
  return (
    <Flex align="center" gap="8px" py="4px">
      <Checkbox.Root size="sm" checked={open} onCheckedChange={({ checked }) => set((_, gainDb) => ({ open: checked === true, gainDb }), '')}>
        <Checkbox.HiddenInput aria-label={`${words} hear ${source.name}`} />
        <Checkbox.Control />
      </Checkbox.Root>
      <Text fontSize="13.5px" w="76px">
        {words}
      </Text>
      <Box flex="1">
        <LevelSlider label={`Level of ${source.name} for ${words.toLowerCase()}`} value={first.point.gainDb} min={-40} max={12} onChange={(gainDb) => set(() => ({ open: true, gainDb }), `levels:${source.id}:${kind}`)} />
      </Box>
      <Text fontSize="12.5px" minW="52px" textAlign="right" color="soft" title={uneven ? 'They are not all alike; moving this makes them so.' : undefined}>
        {!open ? 'off' : `${uneven ? '≠ ' : ''}${formatDb(first.point.gainDb)}`}
      </Text>
    </Flex>
  );
}

function UnderVoices({ source }: { source: Source }) {
  const desk = useDesk();
  const ducking = useDeskState(({ plan }) => duckingOf(plan, source.id));
  return (
    <Flex align="center" gap="8px" pt="8px" mt="6px" borderTopWidth="1px" borderColor="hairline">
      <Checkbox.Root size="sm" checked={ducking.on} onCheckedChange={({ checked }) => desk.plan.change((plan) => setDucking(plan, source.id, { on: checked === true }))}>
        <Checkbox.HiddenInput />
        <Checkbox.Control />
        <Checkbox.Label fontSize="13.5px">Goes under the voices, {formatDb(-ducking.depthDb)}</Checkbox.Label>
      </Checkbox.Root>
    </Flex>
  );
}
