'use client';

import { Box, Text, useToken } from '@chakra-ui/react';
import { CartesianGrid, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { compressorGainDb, toneDb } from '@/core/strip/curves';
import type { StripSettings } from '@/core/strip/settings';

const RATE = 48_000;
const TONES = Array.from({ length: 121 }, (_, k) => 20 * 1000 ** (k / 120));
const TONE_TICKS = [50, 200, 1000, 5000, 15_000];
const LEVELS = Array.from({ length: 31 }, (_, k) => -60 + 2 * k);

/** What low cut and tone do to every frequency, from the filters that run. */
export function ToneCurve({ strip }: { strip: StripSettings }) {
  const points = TONES.map((hz) => ({ hz, db: Math.max(-24, toneDb(strip, hz, RATE)) }));
  const most = points.reduce((best, point) => (Math.abs(point.db) > Math.abs(best.db) && point.hz > 60 ? point : best), points[60]);
  return (
    <Curve title="tone, dB over Hz" label={`What low cut and tone do. Most around ${Math.round(most.hz)} Hz: ${most.db.toFixed(1)} dB.`} data={points} x="hz" y="db">
      <XAxis dataKey="hz" type="number" scale="log" domain={[20, 20_000]} ticks={TONE_TICKS} tickFormatter={(hz: number) => (hz < 1000 ? String(hz) : `${hz / 1000}k`)} fontSize={12} />
      <YAxis domain={[-18, 12]} ticks={[-18, -12, -6, 0, 6, 12]} allowDataOverflow fontSize={12} />
    </Curve>
  );
}

/** What goes in and what comes out of the compressor, from the curve that runs. */
export function LevelCurve({ strip: { compressor } }: { strip: StripSettings }) {
  const gain = (level: number): number => (compressor.on ? compressorGainDb(level, compressor) + compressor.makeUpDb : 0);
  const points = LEVELS.map((level) => ({ level, out: level + gain(level), same: level }));
  return (
    <Curve title="level in and out, dBFS" label={`What even out does: ${compressor.on ? `words at −20 dBFS come out at ${(-20 + gain(-20)).toFixed(1)}` : 'nothing'}.`} data={points} x="level" y="out" beside="same">
      <XAxis dataKey="level" type="number" domain={[-60, 0]} ticks={[-60, -40, -20, 0]} fontSize={12} />
      <YAxis domain={[-60, 0]} ticks={[-60, -40, -20, 0]} allowDataOverflow fontSize={12} />
    </Curve>
  );
}

interface CurveProps {
  title: string;
  label: string;
  data: object[];
  x: string;
  y: string;
  beside?: string;
  children: React.ReactNode;
}

function Curve({ title, label, data, y, beside, children }: CurveProps) {
  const [lamp, faint, hairline] = useToken('colors', ['lamp', 'faint', 'hairline']);
  return (
    <Box role="img" aria-label={label} css={{ '& .recharts-cartesian-axis-tick-value': { fill: 'var(--chakra-colors-soft)' } }}>
      <Text fontSize="13px" color="soft" mb="2px">
        {title}
      </Text>
      <ResponsiveContainer width="100%" height={130}>
        <LineChart data={data} margin={{ top: 4, right: 6, bottom: 0, left: -22 }}>
          <CartesianGrid stroke={hairline} />
          {children}
          {beside && <Line dataKey={beside} stroke={faint} strokeDasharray="3 4" dot={false} isAnimationActive={false} />}
          <Line dataKey={y} stroke={lamp} dot={false} isAnimationActive={false} strokeWidth={2.5} />
        </LineChart>
      </ResponsiveContainer>
    </Box>
  );
}
