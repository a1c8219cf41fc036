'use client';

import { Box, Flex, Grid, Heading, Popover, Portal } from '@chakra-ui/react';
import { Ellipsis } from 'lucide-react';
import { useRef } from 'react';
import { sourceSettings, type Source } from '@/core/hearing/plan';
import { useReading } from '../frame';
import { setStyle } from '../set-style';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { BringUp } from './bring-up';
import { Cough, Listen, OnOff, OutOfPhones, Talk } from './lane-controls';
import { LaneGain } from './lane-gain';
import { LampRow } from './lane-lamps';
import { ROOMY_ROW, type LaneLayout } from './lane-layout';
import { LaneNote } from './lane-note';
import { LaneScale } from './lane-scale';
import { LaneTrace } from './lane-trace';
import { SoundLevels } from './sound-levels';

/** Louder than this is somebody who speaks, dBFS of the mean. */
const SPEAKS_DBFS = -42;

export const laneColumns = ({ name, trace, level, hands }: LaneLayout): string => `${name}px ${trace > 0 ? `minmax(0, 1fr) ` : ''}auto ${trace > 0 ? '' : '1fr '}${level}px ${hands}px`;

interface LaneRowProps {
  source: Source;
  slot: number;
  layout: LaneLayout;
}

/** One source in one line: what is used on air is there, the rest opens from it. */
export function LaneRow({ source, slot, layout }: LaneRowProps) {
  const desk = useDesk();
  const on = useDeskState(({ plan }) => sourceSettings(plan, source.id).on);
  const speaks = useRef<HTMLDivElement>(null);
  const roomy = layout.row >= ROOMY_ROW;
  useReading(() => {
    if (speaks.current) setStyle(speaks.current, 'opacity', 20 * Math.log10(desk.board()?.sourceRms[slot] ?? 0) > SPEAKS_DBFS ? '1' : '0');
  });
  return (
    <Grid
      as="article"
      aria-label={source.name}
      position="relative"
      templateColumns={laneColumns(layout)}
      columnGap="8px"
      alignItems="center"
      h={`${layout.row}px`}
      flex="none"
      px="10px"
      borderTopWidth="1px"
      borderColor="hairline"
      opacity={on ? 1 : 0.72}
    >
      <Box ref={speaks} position="absolute" inset="0" bg="raised" borderLeftWidth="4px" borderColor="lamp" opacity={0} aria-hidden />
      <Box minW="0" position="relative">
        <Heading as="h2" fontFamily="heading" fontSize={roomy ? '17px' : '15px'} fontWeight="700" lineHeight="1.15" truncate title={source.name}>
          {source.name}
        </Heading>
        {layout.row >= 36 && (
          <Box css={{ '& *': { fontSize: '12px' } }}>
            <LaneNote source={source} lines={roomy ? 2 : 1} />
          </Box>
        )}
      </Box>
      {layout.trace > 0 && (
        <Flex position="relative" h="100%" align="center" minW="0" overflow="hidden">
          <LaneTrace slot={slot} margin={6} />
        </Flex>
      )}
      <Box position="relative">
        <LampRow source={source} slot={slot} pitch={layout.pitch} />
      </Box>
      {layout.trace === 0 && <span />}
      <Box position="relative">
        <LaneScale slot={slot} wide={layout.level > 100} />
      </Box>
      <Hands source={source} slot={slot} layout={layout} />
    </Grid>
  );
}

function Hands({ source, slot, layout }: LaneRowProps) {
  const waits = useDeskState(({ plan, lines }) => source.kind === 'voice' && plan.waiting.includes(source.seat.id) && lines[source.seat.id]?.here !== false);
  const h = `${layout.row >= ROOMY_ROW ? 34 : Math.min(28, layout.row - 4)}px`;
  const wide = layout.hands > 200;
  return (
    <Grid position="relative" css={wide ? undefined : { '& button': { fontSize: '12px', gap: '3px' } }} templateColumns={layout.buttons} gap="4px" justifyContent="end" alignItems="center">
      {waits && source.kind === 'voice' ? (
        <Box gridColumn="span 2">
          <BringUp seat={source.seat.id} name={source.name} />
        </Box>
      ) : (
        <>
          <OnOff source={source} h={h} />
          {source.kind === 'voice' && source.seat.role === 'host' ? <Cough source={source} h={h} /> : source.kind === 'voice' ? <Talk source={source} h={h} /> : <SoundLevels source={source} h={h} />}
        </>
      )}
      <Listen source={source} h={h} />
      <More source={source} slot={slot} h={h} />
    </Grid>
  );
}

/** What is seldom used on air: the gain, one's own phones, and how the line is. */
function More({ source, slot, h }: { source: Source; slot: number; h: string }) {
  return (
    <Popover.Root positioning={{ placement: 'left-start' }} lazyMount unmountOnExit>
      <Popover.Trigger asChild>
        <ControlButton px="0" h={h} minW="0" aria-label={`More of ${source.name}`}>
          <Ellipsis size={15} />
        </ControlButton>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content bg="raised" borderWidth="1px" borderColor="hairline" w="260px" aria-label={`More of ${source.name}`}>
            <Popover.Body py="12px">
              <LaneNote source={source} />
              <Box my="10px">
                <LaneGain source={source} slot={slot} />
              </Box>
              <Flex gap="6px" align="center">
                <OutOfPhones source={source} w="76px" />
                {source.kind === 'voice' && source.seat.role === 'caller' && <BringUp seat={source.seat.id} name={source.name} />}
              </Flex>
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  );
}
