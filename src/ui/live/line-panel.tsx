'use client';

import { Box, Grid, Text } from '@chakra-ui/react';
import { useState, type ReactNode } from 'react';
import type { DirectionReport } from '@/core/lines/line-report';
import { letsThrough, type NetworkFound } from '@/core/lines/network';
import { sendJson } from '@/live/api';
import type { LineView } from '@/live/lines/line-view';
import { formatDb, formatDuration } from '../format';
import { ControlButton } from '../shell/control-button';
import { useDesk } from '../shell/desk-context';
import { EchoPart } from './echo-part';
import { LineChart } from './line-chart';
import { LineDialog, type LinePanelProps } from './line-dialog';
import { BringUp } from './bring-up';

/** Everything known of one link, and what the host can do with it. */
export function LinePanel({ seat, line, now, onClose }: LinePanelProps) {
  const desk = useDesk();
  const [trouble, setTrouble] = useState<string | null>(null);
  const remove = () =>
    void sendJson('DELETE', `/api/episodes/${desk.data.episode.id}/seats/${seat.id}/invitation`).then(
      () => {
        const { seats, invitations, plan } = desk.store.getState();
        if (seat.role === 'caller' && !plan.waiting.includes(seat.id)) desk.plan.setWaiting(seat.id, true);
        desk.seats.set(seats, invitations.filter((one) => one.seat !== seat.id));
        onClose();
      },
      (error: Error) => setTrouble(error.message),
    );
  const { report, status } = line;
  return (
    <LineDialog
      seat={seat}
      line={line}
      onClose={onClose}
      actions={
        <>
          {seat.role === 'caller' && line.here && <BringUp seat={seat.id} name={seat.name} />}
          <ControlButton disabled={!line.here} onClick={() => desk.askReload(seat.id)}>
            Ask for a reload
          </ControlButton>
          <ControlButton onClick={remove} title="Stops the link at once. A new one is made in Prepare.">
            Remove from the call
          </ControlButton>
        </>
      }
    >
      <Text color="soft" mb="12px">
        {line.state === 'none' || line.state === 'invited' ? 'Nobody has come by this link yet.' : `For ${formatDuration((now - line.sinceMs) / 1000)}.`}
        {status?.name && status.name !== seat.fullName && ` Calls themselves ${status.name}.`}
        {status?.microphone && ` Microphone: ${status.microphone}.`} {status && headphonesInWords(status)} {status?.network && networkInWords(status.network)}
      </Text>
      {report ? (
        <Grid as="table" w="100%" templateColumns="auto 1fr 1fr" columnGap="20px" rowGap="4px" fontSize="15px" css={{ '& thead, & tbody, & tr': { display: 'contents' } }}>
          <thead>
            <tr>
              <Th>measured</Th>
              <Th>from {seat.name}</Th>
              <Th>to {seat.name}</Th>
            </tr>
          </thead>
          <tbody>
            <Row name="Delay" report={report} value={({ delayMs }) => milliseconds(delayMs)} />
            <Row name="of it, jitter buffer" report={report} value={({ bufferMs }) => milliseconds(bufferMs)} />
            <Row name="Loss" report={report} value={({ lossShare }) => `${(lossShare * 100).toFixed(1)} %`} />
            <Row name="Jitter" report={report} value={({ jitterMs }) => milliseconds(jitterMs)} />
            <Row name="Made up, last second" report={report} value={({ concealedMs }) => milliseconds(concealedMs)} />
            <Row name="Bitrate" report={report} value={({ kbps }) => `${Math.round(kbps)} kbit/s`} />
          </tbody>
        </Grid>
      ) : (
        <Text color="soft">No sound arrives, so there is nothing to measure.</Text>
      )}
      {report && <Text mt="6px" fontSize="14px" color="soft">Round trip {milliseconds(report.roundTripMs)}; delays are half of it and the jitter buffer.</Text>}
      <EchoPart seat={seat} now={now} />
      <LineChart history={line.history} />
      <Text role="alert" color="ember" fontSize="14px">
        {trouble}
      </Text>
    </LineDialog>
  );
}

export function headphonesInWords({ tested, echoDb, echoDelayMs, echoCancellation }: { tested: boolean; echoDb: number | null; echoDelayMs: number | null; echoCancellation: boolean }): string {
  const cancelled = echoCancellation ? ' Their browser cancels the echo.' : '';
  if (!tested) return `Headphones not tested.${cancelled}`;
  if (echoDb === null) return `Headphones tested: nothing leaks.${cancelled}`;
  return `Loudspeakers reach the microphone: ${formatDb(echoDb)} after ${Math.round(echoDelayMs ?? 0)} ms.${cancelled}`;
}

function networkInWords(found: NetworkFound): string {
  if (letsThrough(found) === 'no') return 'Their network was tried, and no call came through.';
  if (found.relay === true) return found.direct === true ? 'Their network lets the call through, by the relay if it must.' : 'Their network lets the call through by the relay.';
  if (found.relay === false) return 'Their network lets sound out, but not to the relay.';
  return found.direct === true ? 'Their network lets sound out and in.' : '';
}

const milliseconds = (ms: number | null): string => (ms === null ? 'not known' : `${ms < 10 ? ms.toFixed(1) : Math.round(ms)} ms`);

function Th({ children }: { children: ReactNode }) {
  return (
    <Box as="th" fontSize="13px" fontWeight="400" color="soft" textAlign="left">
      {children}
    </Box>
  );
}

function Row({ name, report, value }: { name: string; report: NonNullable<LineView['report']>; value(report: DirectionReport): string }) {
  return (
    <tr>
      <Th>{name}</Th>
      <td>{report.toDesk ? value(report.toDesk) : '–'}</td>
      <td>{report.toGuest ? value(report.toGuest) : '–'}</td>
    </tr>
  );
}
