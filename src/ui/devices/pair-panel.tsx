'use client';

import { Box, Grid, Text } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { listInWords } from '@/core/hearing/names';
import { sourceOfLine } from '@/core/hearing/seats';
import { outletOfLine } from '@/core/hearing/wiring';
import { formatDuration } from '../format';
import { BringUp } from '../live/bring-up';
import { EchoPart } from '../live/echo-part';
import { LineChart } from '../live/line-chart';
import { LineDialog, type LinePanelProps } from '../live/line-dialog';
import { useDeskState } from '../shell/desk-context';
import { PairDevices } from './pair-devices';

/** Everything known of a line that is two devices, and what can be done with it. */
export function PairPanel({ seat, line, now, onClose }: LinePanelProps) {
  const input = useDeskState(({ plugged }) => plugged.inputs[sourceOfLine(seat)]);
  const outlet = useDeskState(({ plugged }) => plugged.outlets[outletOfLine(seat.id)]);
  return (
    <LineDialog seat={seat} line={line} onClose={onClose} actions={seat.role === 'caller' && <BringUp seat={seat.id} name={seat.name} />}>
      <Text color="soft" mb="12px">
        {seat.people.length > 1 && `${listInWords(seat.people)} speak on this line: one return, one track; they hear each other in their own program. `}
        For {formatDuration((now - line.sinceMs) / 1000)}.
      </Text>
      <Grid as="dl" templateColumns="auto 1fr 1fr" columnGap="20px" rowGap="4px" fontSize="15px">
        <Cell soft>measured</Cell>
        <Cell soft>from {seat.name}</Cell>
        <Cell soft>to {seat.name}</Cell>
        <Cell soft>Device</Cell>
        <Cell>{input?.label ?? '–'}</Cell>
        <Cell>{outlet?.label ?? '–'}</Cell>
        <Cell soft>Delay</Cell>
        <Cell>{milliseconds(input?.delayMs)}</Cell>
        <Cell>{milliseconds(outlet?.delayMs)}</Cell>
        <Cell soft>Clock against the desk’s</Cell>
        <Cell>{drift(input?.driftPpm)}</Cell>
        <Cell>{drift(outlet?.driftPpm)}</Cell>
        <Cell soft>Rate</Cell>
        <Cell>{input?.rate ? `${(input.rate / 1000).toFixed(1)} kHz` : '–'}</Cell>
        <Cell>–</Cell>
        <Cell soft>Drop-outs</Cell>
        <Cell>{input ? `${input.glitches}${input.lost > 0 ? `, ${Math.round(input.lost / 48)} ms lost` : ''}` : '–'}</Cell>
        <Cell>{outlet ? outlet.glitches : '–'}</Cell>
        <Cell soft>Evened out</Cell>
        <Cell>{input ? evened(input.evened) : '–'}</Cell>
        <Cell>–</Cell>
      </Grid>
      <Text mt="6px" fontSize="13px" color="soft">
        What waits between two clocks is measured; what a device takes itself is what the browser says of it.
      </Text>
      <EchoPart seat={seat} now={now} />
      <LineChart history={line.history} />
      <Box mt="8px">
        <PairDevices seat={seat} />
      </Box>
    </LineDialog>
  );
}

const milliseconds = (ms: number | null | undefined): string => (ms == null ? 'not known' : `${Math.round(ms)} ms`);

/** Samples taken out where the other clock is fast or too much waited, put in where it is slow or too little did. */
const evened = (samples: number): string => `${Math.abs(samples)} samples${samples === 0 ? '' : samples > 0 ? ' taken out' : ' put in'}`;

function drift(ppm: number | null | undefined): string {
  if (ppm == null) return 'not known yet';
  return Math.abs(ppm) < 5 ? 'the same' : `${Math.abs(ppm)} ppm ${ppm > 0 ? 'fast' : 'slow'}`;
}

function Cell({ soft = false, children }: { soft?: boolean; children: ReactNode }) {
  return (
    <Box as="dd" fontSize={soft ? '13px' : undefined} color={soft ? 'soft' : undefined}>
      {children}
    </Box>
  );
}
