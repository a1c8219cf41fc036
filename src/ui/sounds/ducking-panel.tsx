'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { setDucking } from '@/core/hearing/edit';
import { duckingOf, type Ducking } from '@/core/hearing/ducking';
import { soundsOf } from '@/core/hearing/ids';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { LevelSlider } from '../shell/level-slider';
import { Panel } from '../shell/panel';

const signed = (value: number) => String(value).replace('-', '−');

/** Which player goes under whose voice, and how. */
export function DuckingPanel() {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const speakers = plan.seats.filter(({ role }) => role !== 'producer');
  const [player, setPlayer] = useState(plan.players.find(({ id }) => id === 'bed')?.id ?? plan.players[0]?.id ?? '');
  if (!plan.players.some(({ id }) => id === player)) return null;
  const source = soundsOf(player);
  const ducking = duckingOf(plan, source);
  const set = (change: Partial<Ducking>, control = '') => desk.plan.change((now) => setDucking(now, source, change), control && `duck:${source}:${control}`);
  const turn = (seat: string) => {
    const all = speakers.map(({ id }) => id);
    const chosen = ducking.under ?? all;
    const next = chosen.includes(seat) ? chosen.filter((id) => id !== seat) : [...chosen, seat];
    set({ under: all.every((id) => next.includes(id)) ? null : next });
  };
  return (
    <Panel title="Under the voices" aside={ducking.on ? 'by itself' : 'off'}>
      <Flex gap="6px" wrap="wrap" mb="6px">
        {plan.players.map(({ id, name }) => (
          <ControlButton key={id} h="28px" px="10px" fontSize="13px" tone={id === player ? 'tide' : 'plain'} aria-pressed={id === player} onClick={() => setPlayer(id)}>
            {name}
          </ControlButton>
        ))}
        <ControlButton h="28px" px="10px" fontSize="13px" tone={ducking.on ? 'lit' : 'plain'} aria-pressed={ducking.on} onClick={() => set({ on: !ducking.on })}>
          Goes under
        </ControlButton>
      </Flex>
      <Text fontSize="13px" color="soft">
        when these speak
      </Text>
      <Flex gap="6px" wrap="wrap" my="4px">
        {speakers.map(({ id, name }) => {
          const on = ducking.under?.includes(id) ?? true;
          return (
            <ControlButton key={id} h="26px" px="9px" fontSize="13px" tone={on ? 'lit' : 'plain'} aria-pressed={on} aria-label={`Goes under ${name}`} onClick={() => turn(id)}>
              {name}
            </ControlButton>
          );
        })}
      </Flex>
      <Row label="Goes under from" words="speech above" shown={`${signed(ducking.thresholdDb)} dBFS`} value={ducking.thresholdDb} min={-60} max={-20} unit=" dBFS" onChange={(thresholdDb) => set({ thresholdDb }, 'threshold')} />
      <Row label="Goes under by" words="down by" shown={`${ducking.depthDb} dB`} value={ducking.depthDb} min={0} max={40} unit=" dB" onChange={(depthDb) => set({ depthDb }, 'depth')} />
      <Row label="Down in" words="down in" shown={`${ducking.attackMs} ms`} value={ducking.attackMs} min={20} max={1000} step={10} unit=" ms" onChange={(attackMs) => set({ attackMs }, 'attack')} />
      <Row label="Stays down for" words="stays for" shown={`${ducking.holdMs} ms`} value={ducking.holdMs} min={0} max={3000} step={50} unit=" ms" onChange={(holdMs) => set({ holdMs }, 'hold')} />
      <Row label="Up again in" words="up again in" shown={`${ducking.releaseMs} ms`} value={ducking.releaseMs} min={50} max={5000} step={50} unit=" ms" onChange={(releaseMs) => set({ releaseMs }, 'release')} />
    </Panel>
  );
}

interface RowProps {
  label: string;
  words: string;
  shown: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  unit: string;
  onChange(value: number): void;
}

function Row({ words, shown, ...slider }: RowProps) {
  return (
    <Flex align="center" gap="10px" py="3px">
      <Text fontSize="13px" w="116px" flex="none" lineHeight="1.2">
        {words}
      </Text>
      <Box flex="1">
        <LevelSlider {...slider} />
      </Box>
      <Text fontSize="12.5px" color="soft" minW="58px" textAlign="right" whiteSpace="nowrap">
        {shown}
      </Text>
    </Flex>
  );
}
