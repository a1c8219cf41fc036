'use client';

import { Box, Heading, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { LineReport } from '@/core/lines/line-report';
import type { TakeData } from '@/core/session/take-data';
import { getJson } from '@/live/api';
import { formatDb, formatDuration } from '../format';
import { EchoChart } from '../live/echo-part';
import { LineChart } from '../live/line-chart';

interface Kept {
  seat: string;
  atSample: number;
  report: LineReport;
}

const SAMPLES_PER_MS = 48;

/** The quality of the lines while the take was recorded, as measured then. */
export function LinesNote({ take }: { take: TakeData }) {
  const [kept, setKept] = useState<Kept[] | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const load = (open: boolean) => {
    if (open && kept === null) getJson<Kept[]>(`/api/takes/${take.id}/lines`).then(setKept, (error: Error) => setTrouble(error.message));
  };
  const seats = [...new Set((kept ?? []).map(({ seat }) => seat))];
  return (
    <Box as="details" fontSize="14px" color="soft" onToggle={(event) => load((event.currentTarget as unknown as HTMLDetailsElement).open)}>
      <summary>Quality of the lines</summary>
      {kept?.length === 0 && <Text mt="4px">No link was connected while this take was recorded.</Text>}
      {seats.map((seat) => (
        <Box key={seat} as="section" aria-label={`Line of ${seat}`} mt="8px" maxW="720px">
          <Heading as="h3" fontSize="15px" color="text">
            {take.consents.find((consent) => consent.seat === seat)?.name ?? seat}
          </Heading>
          <EchoNote kept={(kept ?? []).filter((one) => one.seat === seat)} />
          <LineChart
            history={(kept ?? []).filter((one) => one.seat === seat).map(({ atSample, report }) => ({ atMs: atSample / SAMPLES_PER_MS, report }))}
            atInWords={(ms) => formatDuration(ms / 1000)}
          />
        </Box>
      ))}
      <Text role="alert" color="ember">
        {trouble}
      </Text>
    </Box>
  );
}

/** What came back by a line while it was recorded. */
function EchoNote({ kept }: { kept: readonly Kept[] }) {
  const seen = kept.flatMap(({ atSample, report: { echo } }) => (echo ? [{ atMs: atSample / SAMPLES_PER_MS, ...echo }] : []));
  if (seen.length === 0) return null;
  const loudest = seen.reduce((most, one) => ((one.levelDb ?? -Infinity) > (most.levelDb ?? -Infinity) ? one : most));
  const level = loudest.levelDb === null ? '' : `, ${formatDb(loudest.levelDb)} at its loudest`;
  const cancelled = seen.filter((one) => one.cancelled).length;
  return (
    <Box>
      <Text mt="2px">
        The others came back {Math.round(loudest.delayMs)} ms late{level}, first at {formatDuration(seen[0].atMs / 1000)}.{' '}
        {cancelled === 0 ? 'It is in the mixes and on this track.' : `It was cancelled in the mixes ${cancelled === seen.length ? 'all the time' : 'part of the time'}; this track holds it.`}
      </Text>
      <EchoChart history={seen.flatMap(({ atMs, levelDb }) => (levelDb === null ? [] : [{ atMs, levelDb }]))} atInWords={(ms) => formatDuration(ms / 1000)} />
    </Box>
  );
}
