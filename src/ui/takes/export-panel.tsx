'use client';

import { Box, chakra, Flex, Text } from '@chakra-ui/react';
import { Download, Headphones } from 'lucide-react';
import { useState } from 'react';
import type { TakeData } from '@/core/session/take-data';
import { exportSchema, mixSettingsSchema, type ExportParams, type SoundFile, type TaskData } from '@/core/tasks/task';
import { sendJson } from '@/live/api';
import { formatLevel, sizeInWords } from '../format';
import { ControlButton } from '../shell/control-button';
import { Panel } from '../shell/panel';
import { ListenEnds } from './listen-ends';
import { MixEnds } from './mix-ends';
import { Pick } from './pick';
import { KINDS } from './track-row';
import { progressInWords } from './task-words';
import type { Tasks } from './use-tasks';

const Link = chakra('a');

const WHAT = { tracks: 'All tracks, each alone (ZIP)', mix: 'One finished mix' } as const;
const FILES: Record<SoundFile, string> = { wav: 'WAV (broadcast)', flac: 'FLAC', mp3: 'MP3', opus: 'Opus' };

/** Where all tracks of a take are, with their papers: made while they are downloaded. */
export const packageAddress = (take: Pick<TakeData, 'id'>): string => `/api/takes/${take.id}/zip`;

/** Whether nothing is to be made before a download can begin. */
const isPackage = ({ what, file, rate, tracks }: ExportParams): boolean => what === 'tracks' && file === 'wav' && rate === 48000 && tracks.length === 0;

/** Files to take away: what, how, and those that were made. */
export function ExportPanel({ take, tasks }: { take: TakeData; tasks: Tasks }) {
  const [wanted, setWanted] = useState<ExportParams>(() => exportSchema.parse({ what: 'tracks' }));
  const change = (part: Partial<ExportParams>) => setWanted((now) => ({ ...now, ...part }));
  const exportIt = (ends: boolean) => {
    tasks.ask({ kind: 'export', params: { ...wanted, ends } });
    // The show's next mix begins as this one. Where that fails it begins as the one before.
    if (wanted.what === 'mix') void sendJson('PUT', `/api/shows/${take.mix.show}/mix-settings`, mixSettingsSchema.strip().parse(wanted)).catch(() => undefined);
  };
  const made = tasks.list?.filter(({ kind }) => kind === 'export') ?? [];
  const choices = take.tracks.flatMap((voice) => {
    const better = take.tracks.filter(({ derivedFrom }) => derivedFrom === voice.id);
    return better.length > 0 ? [{ voice, better }] : [];
  });
  const hasProgram = take.tracks.some(({ kind }) => kind === 'program');
  return (
    <Panel title="Export">
      <Flex direction="column" gap="7px">
        <Pick label="What to export" value={wanted.what} options={Object.entries(WHAT)} onPick={(what) => setWanted(what === 'mix' ? exportSchema.parse({ ...take.mix.settings, what }) : exportSchema.parse({ what }))} />
        <Flex gap="7px">
          <Pick label="Kind of file" value={wanted.file} options={Object.entries(FILES)} onPick={(file) => change({ file: file as SoundFile, ...(file === 'opus' ? { rate: 48000 as const } : {}) })} />
          <Pick label="Sample rate" value={String(wanted.rate)} options={wanted.file === 'opus' ? [['48000', '48 kHz']] : [['48000', '48 kHz'], ['44100', '44.1 kHz']]} onPick={(rate) => change({ rate: Number(rate) as 48000 | 44100 })} />
        </Flex>
        {wanted.what === 'mix' && (
          <Flex gap="7px">
            {hasProgram && <Pick label="Made from" value={wanted.from} options={[['plan', 'the tracks, by the plan'], ['program', 'the recorded program']]} onPick={(from) => change({ from: from as ExportParams['from'] })} />}
            <Pick label="Loudness" value={wanted.normalise ? 'show' : 'as-is'} options={[['show', 'the show’s loudness'], ['as-is', 'as it is']]} onPick={(way) => change({ normalise: way === 'show' })} />
          </Flex>
        )}
        {wanted.what === 'mix' && <MixEnds settings={wanted} sounds={take.mix.sounds} onChange={change} />}
        {wanted.what === 'mix' &&
          wanted.from === 'plan' &&
          choices.map(({ voice, better }) => (
            <Pick
              key={voice.id}
              label={`${voice.name} in the mix`}
              value={better.find(({ id }) => wanted.tracks.includes(id))?.id ?? voice.id}
              options={[voice, ...better].map(({ id, name, kind }) => [id, `${name}: ${KINDS[kind]}`])}
              onPick={(picked) => change({ tracks: [...wanted.tracks.filter((id) => !better.some((one) => one.id === id)), ...(picked === voice.id ? [] : [picked])] })}
            />
          ))}
        {isPackage(wanted) ? (
          <ControlButton tone="lamp" asChild>
            <a href={packageAddress(take)} download>
              <Download size={16} /> Download now
            </a>
          </ControlButton>
        ) : (
          <Flex gap="7px">
            {wanted.what === 'mix' && (
              <ControlButton title="Makes only the first and the last ten seconds, as the file will have them." onClick={() => exportIt(true)}>
                <Headphones size={16} /> Listen to both ends first
              </ControlButton>
            )}
            <ControlButton tone="lamp" flex="1" onClick={() => exportIt(false)}>
              Export
            </ControlButton>
          </Flex>
        )}
      </Flex>
      {tasks.trouble && (
        <Text role="alert" color="ember" fontSize="14px" mt="6px">
          {tasks.trouble}
        </Text>
      )}
      <Flex as="ul" aria-label="Exported files" direction="column" gap="7px" listStyleType="none" mt={made.length > 0 ? '10px' : '0'}>
        {made.map((task) => (
          <MadeFile key={task.id} take={take} task={task} tasks={tasks} />
        ))}
      </Flex>
    </Panel>
  );
}

function MadeFile({ take, task, tasks }: { take: TakeData; task: TaskData; tasks: Tasks }) {
  const params = task.params as ExportParams;
  const words = params.ends ? 'Both ends of the mix' : `${params.what === 'mix' ? 'Mix' : 'Tracks'} as ${FILES[params.file]}`;
  const measured = (task.result as { measured?: { integratedLufs: number | null; truePeakDb: number | null } } | null)?.measured;
  return (
    <Flex as="li" gap="8px" align="center" fontSize="13px">
      <Box flex="1" minW="0">
        <Text truncate title={params.ends ? undefined : task.file?.name}>{params.ends ? words : (task.file?.name ?? words)}</Text>
        <Text color={task.state === 'failed' ? 'ember' : 'soft'} role={task.state === 'failed' ? 'alert' : undefined}>
          {(task.state === 'running' || task.state === 'waiting') && progressInWords('being made', task)}
          {task.state === 'failed' && task.problem}
          {task.state === 'cancelled' && 'stopped'}
          {task.state === 'done' && task.file && (params.ends ? 'ten seconds of each, as the file will have them' : sizeInWords(task.file.bytes))}
          {measured?.integratedLufs != null && `, ${formatLevel(measured.integratedLufs)} LUFS, true peak ${measured.truePeakDb?.toFixed(1).replace('-', '−')} dB`}
        </Text>
      </Box>
      {task.state === 'done' && task.file && params.what === 'mix' && <ListenEnds url={`/api/takes/${take.id}/tasks/${task.id}/file`} name={params.ends ? 'the mix' : task.file.name} />}
      {task.state === 'done' && task.file && !params.ends && (
        <Link href={`/api/takes/${take.id}/tasks/${task.id}/file`} download aria-label={`Download ${task.file.name}`} display="inline-flex" gap="5px" alignItems="center" fontWeight="600" color="lamp" textDecoration="underline">
          <Download size={14} /> Download
        </Link>
      )}
      {(task.state === 'waiting' || task.state === 'running') && (
        <ControlButton h="26px" px="9px" fontSize="13px" aria-label={`Stop making ${words}`} onClick={() => tasks.cancel(task.id)}>
          Stop
        </ControlButton>
      )}
    </Flex>
  );
}
