'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { CircleAlert, CircleCheck, TriangleAlert } from 'lucide-react';
import { findingsOf, ofThoseInCall, type CheckFinding } from '@/core/checks/findings';
import type { TakeCheck } from '@/core/checks/take-check';
import type { TakeData } from '@/core/session/take-data';
import type { TakePlayer } from '@/live/takes/take-player';
import { isFault } from '@/core/takes/gaps';
import { formatDuration } from '../format';
import { ControlButton } from '../shell/control-button';
import { Panel } from '../shell/panel';
import { IsolationTable } from './isolation-table';
import { MeasuresTable } from './measures-table';
import { progressInWords } from './task-words';
import type { Tasks } from './use-tasks';

const RATE = 48000;

interface ChecksPanelProps {
  take: TakeData;
  player: TakePlayer;
  tasks: Tasks;
  onShow(sample: number): void;
}

/** What was measured after the take, in words a host can act on; every line leads to its place. */
export function ChecksPanel({ take, player, tasks, onShow }: ChecksPanelProps) {
  const checks = tasks.list?.filter(({ kind }) => kind === 'check') ?? [];
  const running = checks.find(({ state }) => state === 'waiting' || state === 'running');
  const done = checks.find(({ state }) => state === 'done');
  const failed = checks[0]?.state === 'failed' ? checks[0].problem : null;
  /** What was found in a first look, while all of a take that was never checked is measured. */
  const isFirstLook = !done && running !== undefined && running.result !== null;
  const measured = ((done ?? running)?.result ?? null) as TakeCheck | null;
  const check = measured && ofThoseInCall(take, measured);
  const findings = check ? findingsOf(take, check) : [];
  const apart = check?.isolation.filter(({ verdict }) => verdict === 'not-measurable').length ?? 0;
  const unknown = apart > 0 && ` Of ${apart} pairs nothing can be said: they never sounded together.`;
  const hasFaults = take.gaps.some(({ cause }) => isFault(cause));
  const go = (sample: number) => {
    player.seek(sample);
    onShow(sample);
  };
  const again = (
    <ControlButton h="28px" px="10px" fontSize="13px" aria-disabled={running !== undefined} onClick={() => !running && tasks.ask({ kind: 'check', params: {} })}>
      {done ? 'Check again' : 'Check'}
    </ControlButton>
  );
  return (
    <Panel title="Checks" action={again} urgent={findings.some(({ severity }) => severity === 'fault')}>
      <Box role="status" fontSize="14px">
        {running && (
          <Text color="soft">
            {progressInWords('Measuring', running)}
            {isFirstLook && (findings.length === 0 ? ' A first look found nobody in anybody else’s track.' : ' This is what a first look found:')}
          </Text>
        )}
        {failed && <Text color="ember">The check stopped: {failed}</Text>}
        {check && !running && findings.length === 0 && (
          <Flex gap="8px" align="center">
            <Box flex="none">
              <CircleCheck size={17} />
            </Box>
            <span>
              {hasFaults ? 'Apart from the gaps above every track is whole' : 'Every track is whole'}, and nobody was found in anybody else’s.{unknown}
            </span>
          </Flex>
        )}
        {!check && !running && !failed && tasks.list && <Text color="soft">Not checked yet.</Text>}
      </Box>
      <Flex as="ul" direction="column" gap="8px" listStyleType="none" mt="4px">
        {findings.map((finding) => (
          <Finding key={finding.words} take={take} finding={finding} tasks={tasks} onGo={go} />
        ))}
      </Flex>
      {check && (
        <>
          <Box as="details" fontSize="13px" mt="10px">
            <summary>Who is heard in whose track</summary>
            <IsolationTable take={take} check={check} onGo={go} />
          </Box>
          {!isFirstLook && (
            <Box as="details" fontSize="13px" mt="6px">
              <summary>Levels and noise of each track</summary>
              <MeasuresTable take={take} check={check} />
            </Box>
          )}
        </>
      )}
    </Panel>
  );
}

function Finding({ take, finding, tasks, onGo }: { take: TakeData; finding: CheckFinding; tasks: Tasks; onGo(sample: number): void }) {
  const isGrave = finding.severity === 'fault';
  const { atSample } = finding;
  return (
    <Flex as="li" gap="8px" fontSize="14px" lineHeight="1.35">
      <Box color={isGrave ? 'ember' : 'lamp'} pt="2px" flex="none">
        {isGrave ? <CircleAlert size={16} aria-label="Fault" /> : <TriangleAlert size={16} aria-label="Notice" />}
      </Box>
      <Box>
        {finding.words}{' '}
        <Text as="span" color="soft">
          {finding.advice}
        </Text>
        <Flex gap="6px" mt="4px">
          {atSample !== null && (
            <ControlButton h="26px" px="9px" fontSize="13px" aria-label={`Go to ${formatDuration(atSample / RATE)}: ${finding.words}`} onClick={() => onGo(atSample)}>
              {formatDuration(atSample / RATE)}
            </ControlButton>
          )}
          {finding.repairable && <Repair take={take} track={finding.track} tasks={tasks} />}
          {finding.noisy && <Quieten take={take} track={finding.track} tasks={tasks} />}
        </Flex>
      </Box>
    </Flex>
  );
}

/** Asks for a repair, and says what came of it. */
function Repair({ take, track, tasks }: { take: TakeData; track: string; tasks: Tasks }) {
  const newest = tasks.list?.find(({ kind, params }) => kind === 'repair' && 'track' in params && params.track === track);
  const isOpen = newest?.state === 'waiting' || newest?.state === 'running';
  const name = take.tracks.find(({ id }) => id === track)?.name ?? '';
  if (isOpen) return <Text color="soft">{progressInWords('Repairing', newest)}</Text>;
  return (
    <Box>
      <ControlButton h="26px" px="9px" fontSize="13px" aria-label={`Repair ${name}’s track`} onClick={() => tasks.ask({ kind: 'repair', params: { track } })}>
        {newest?.state === 'done' ? 'Repair again' : 'Repair'}
      </ControlButton>
      {newest?.state === 'failed' && <Text color="ember">{newest.problem}</Text>}
      {newest?.state === 'done' && <Text color="soft">{repairInWords(take, newest.result as RepairOutcome)}</Text>}
    </Box>
  );
}

/** Asks for a track without noise, and says by how much its pauses are quieter. */
function Quieten({ take, track, tasks }: { take: TakeData; track: string; tasks: Tasks }) {
  const newest = tasks.list?.find(({ kind, params }) => kind === 'quieten' && 'track' in params && params.track === track);
  const name = take.tracks.find(({ id }) => id === track)?.name ?? '';
  if (newest?.state === 'waiting' || newest?.state === 'running') return <Text color="soft">{progressInWords('Suppressing noise', newest)}</Text>;
  const { beforeDb = null, afterDb = null } = (newest?.result ?? {}) as { beforeDb?: number | null; afterDb?: number | null };
  return (
    <Box>
      <ControlButton h="26px" px="9px" fontSize="13px" aria-label={`Suppress the noise of ${name}’s track`} onClick={() => tasks.ask({ kind: 'quieten', params: { track } })}>
        {newest?.state === 'done' ? 'Suppress noise again' : 'Suppress noise'}
      </ControlButton>
      {newest?.state === 'failed' && <Text color="ember">{newest.problem}</Text>}
      {newest?.state === 'done' && <Text color="soft">{beforeDb === null ? 'The track without noise is below.' : `Pauses from −${Math.round(-beforeDb)} dBFS to ${afterDb === null ? 'silence' : `−${Math.round(-afterDb)} dBFS`}; the track without noise is below.`}</Text>}
    </Box>
  );
}

interface RepairOutcome {
  track: string | null;
  sources: { source: string; beforeDb: number | null; afterDb: number | null; stillFound: boolean }[];
}

/** `Maren from −31 dB to −54 dB` */
function repairInWords(take: TakeData, { track, sources }: RepairOutcome): string {
  if (track === null) return 'It came out no better, so there is only the track itself.';
  const level = (db: number | null, none: string) => (db === null ? none : `−${Math.round(-db)} dB`);
  return sources.map(({ source, beforeDb, afterDb, stillFound }) => `${take.tracks.find(({ id }) => id === source)?.name.split(' ')[0]} from ${level(beforeDb, 'some')} to ${level(afterDb, stillFound ? 'some' : 'nothing found')}`).join(', ');
}
