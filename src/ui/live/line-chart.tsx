'use client';

import { Box, Flex, Text, useToken } from '@chakra-ui/react';
import { CartesianGrid, Line, LineChart as Chart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { LineReport } from '@/core/lines/line-report';
import { useZone } from '../local-time';
import { momentInWords } from '../moment';

interface Point {
  at: number;
  delay: number | null;
  loss: number;
}

/** Delay and loss of a line over the call. */
export function LineChart({ history, atInWords }: { history: { atMs: number; report: LineReport }[]; atInWords?(atMs: number): string }) {
  const [lamp, ember, faint, hairline, surface] = useToken('colors', ['lamp', 'ember', 'faint', 'hairline', 'surface']);
  const zone = useZone();
  if (history.length < 2) return null;
  const points = history.map(({ atMs, report }): Point => ({ at: atMs, delay: report.toDesk?.delayMs ?? null, loss: 100 * (report.toDesk?.lossShare ?? 0) }));
  const words = atInWords ?? ((at: number) => momentInWords(at, zone, 'clock'));
  const worst = Math.max(...points.map(({ delay }) => delay ?? 0));
  return (
    <Box mt="14px" role="img" aria-label={`Delay and loss over time. Longest delay ${Math.round(worst)} ms, largest loss ${Math.max(...points.map(({ loss }) => loss)).toFixed(1)} percent.`}>
      <Flex gap="16px" fontSize="13px" color="soft" mb="4px">
        <Text>
          <Box as="span" display="inline-block" w="18px" h="3px" bg="lamp" mr="6px" verticalAlign="middle" />
          delay, ms (left)
        </Text>
        <Text>
          <Box as="span" display="inline-block" w="18px" borderTopWidth="3px" borderStyle="dashed" borderColor="ember" mr="6px" verticalAlign="middle" />
          loss, % (right)
        </Text>
      </Flex>
      <ResponsiveContainer width="100%" height={150}>
        <Chart data={points} margin={{ top: 4, right: 0, bottom: 0, left: -14 }}>
          <CartesianGrid stroke={hairline} vertical={false} />
          <XAxis dataKey="at" type="number" domain={['dataMin', 'dataMax']} tickFormatter={words} stroke={faint} fontSize={12} minTickGap={40} />
          <YAxis yAxisId="delay" stroke={faint} fontSize={12} domain={[0, 'auto']} />
          <YAxis yAxisId="loss" orientation="right" stroke={faint} fontSize={12} domain={[0, (most: number) => Math.max(5, most)]} />
          <Tooltip labelFormatter={(at) => words(Number(at))} formatter={(value, name) => (name === 'delay' ? [`${Math.round(Number(value))} ms`, 'delay'] : [`${Number(value).toFixed(1)} %`, 'loss'])} contentStyle={{ background: surface, borderColor: hairline }} />
          <Line yAxisId="delay" dataKey="delay" stroke={lamp} dot={false} isAnimationActive={false} strokeWidth={2} />
          <Line yAxisId="loss" dataKey="loss" stroke={ember} dot={false} isAnimationActive={false} strokeWidth={2} strokeDasharray="5 4" />
        </Chart>
      </ResponsiveContainer>
    </Box>
  );
}
