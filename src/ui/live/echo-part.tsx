'use client';

import { Box, Text, useToken } from '@chakra-ui/react';
import { CartesianGrid, Line, LineChart as Chart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { voiceOf } from '@/core/hearing/ids';
import type { DeskSeat } from '@/core/session/desk-data';
import type { EchoSeen } from '@/live/echo/echo-state';
import { formatDb, formatDuration } from '../format';
import { useZone } from '../local-time';
import { momentInWords } from '../moment';
import { useDeskState } from '../shell/desk-context';
import { echoInWords } from './echo-notices';

/** What comes back by a line, as the watch hears it on ordinary speech, and how loud over the call. */
export function EchoPart({ seat, now }: { seat: DeskSeat; now: number }) {
  const echo = useDeskState((state) => state.echoes[voiceOf(seat.id)]);
  return (
    <Box mt="10px">
      <Text fontSize="14px" color={echo ? 'ember' : 'soft'}>
        {echo ? `${echoInWords(seat, echo)} Seen for ${formatDuration((now - echo.sinceMs) / 1000)}.` : 'Nothing of what is sent comes back, as far as was heard.'}
      </Text>
      {echo && echo.history.length > 1 && <EchoChart history={echo.history} />}
    </Box>
  );
}

/** How loud the others came back, over time. */
export function EchoChart({ history, atInWords }: Pick<EchoSeen, 'history'> & { atInWords?(atMs: number): string }) {
  const [ember, faint, hairline, surface] = useToken('colors', ['ember', 'faint', 'hairline', 'surface']);
  const zone = useZone();
  const words = atInWords ?? ((at: number): string => momentInWords(at, zone, 'clock'));
  const loudest = Math.max(...history.map(({ levelDb }) => levelDb));
  return (
    <Box mt="8px" role="img" aria-label={`How loud the others come back, over time. Loudest ${formatDb(loudest)}.`}>
      <Text fontSize="13px" color="soft" mb="4px">
        what comes back, dB
      </Text>
      <ResponsiveContainer width="100%" height={110}>
        <Chart data={history} margin={{ top: 4, right: 0, bottom: 0, left: -14 }}>
          <CartesianGrid stroke={hairline} vertical={false} />
          <XAxis dataKey="atMs" type="number" domain={['dataMin', 'dataMax']} tickFormatter={words} stroke={faint} fontSize={12} minTickGap={40} />
          <YAxis stroke={faint} fontSize={12} domain={[-60, 0]} />
          <Tooltip labelFormatter={(at) => words(Number(at))} formatter={(value) => [formatDb(Number(value)), 'comes back']} contentStyle={{ background: surface, borderColor: hairline }} />
          <Line dataKey="levelDb" stroke={ember} dot={false} isAnimationActive={false} strokeWidth={2} />
        </Chart>
      </ResponsiveContainer>
    </Box>
  );
}
