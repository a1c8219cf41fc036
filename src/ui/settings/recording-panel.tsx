'use client';

import { Box, Flex, Input, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { SAMPLE_FORMATS, type SampleFormat } from '@/core/formats/wav/sample-format';
import { FILE_NAME_FIELDS, fileNameTemplateSchema, trackFileName } from '@/core/takes/file-name';
import { FORMAT_WORDS, type RecordingSettings } from '@/core/takes/recording-settings';
import { Panel } from '../shell/panel';
import { CoverChoice } from './cover-choice';
import { Habit, HabitCheck } from './habit';
import { SettingSelect } from './setting-select';
import { useShowSettings } from './show-settings';

/** Loudness that stations and players ask for, LUFS. */
const TARGETS = [-14, -16, -18, -19, -23, -24];
const CEILINGS = [-1, -1.5, -2, -3];
const STOP_AFTER = [0, 15, 30, 45, 60, 90, 120, 180];

/** How the show's takes are recorded and how finished files leave; a take that runs keeps what it began with. */
export function RecordingPanel() {
  const { recording, setRecording, habits, setHabits, run } = useShowSettings();
  const change = (part: Partial<RecordingSettings>): void => run(setRecording({ ...recording, ...part }));
  return (
    <Panel title="Recording" aside="from the next take on">
      <HabitCheck name="recordMixes" words="Record the mixes too, beside every voice" title="Program, returns, phones and feeds get a track of their own." />
      <HabitCheck name="recordTalkback" words="Record talkback too, on tracks of its own" title="What is said privately is on no track unless this is chosen." />
      <HabitCheck name="recordProcessed" words="Record voices as they go into the mixes too" title="A second track of every voice that has a strip (in Hearing) or whose echo is cancelled here; the first stays as it came in." />
      <Habit name="stopAfterMinutes" words="when a take stops by itself">
        <SettingSelect label="Stop by itself" value={String(habits.stopAfterMinutes)} options={withOwn(STOP_AFTER, habits.stopAfterMinutes, 1).map((minutes) => [String(minutes), minutes === 0 ? 'never' : `after ${minutes} min`])} onChoose={(minutes) => run(setHabits({ stopAfterMinutes: Number(minutes) }))} />
      </Habit>
      <Flex direction="column" gap="8px">
        <SettingSelect label="Takes are recorded in" value={recording.format} options={SAMPLE_FORMATS.map((one) => [one, FORMAT_WORDS[one]])} onChoose={(format) => change({ format: format as SampleFormat })} />
        <SettingSelect label="Finished mixes have" value={String(recording.targetLufs)} options={withOwn(TARGETS, recording.targetLufs, -1).map((lufs) => [String(lufs), `${minus(lufs)} LUFS`])} onChoose={(lufs) => change({ targetLufs: Number(lufs) })} />
        <SettingSelect label="and stay under" value={String(recording.ceilingDb)} options={withOwn(CEILINGS, recording.ceilingDb, -1).map((db) => [String(db), `${minus(db)} dB true peak`])} onChoose={(db) => change({ ceilingDb: Number(db) })} />
        <CoverChoice />
        <FileNames template={recording.fileNames} onChange={(fileNames) => change({ fileNames })} />
      </Flex>
    </Panel>
  );
}

const minus = (value: number): string => String(value).replace('-', '−');
/** The usual values and the one that was chosen; upwards or, with −1, downwards. */
const withOwn = (usual: readonly number[], own: number, order: 1 | -1): number[] => [...new Set([...usual, own])].sort((a, b) => order * (a - b));

/** The names of track files, with an example that follows the typing. */
function FileNames({ template, onChange }: { template: string; onChange(template: string): void }) {
  const { show, example: filled } = useShowSettings();
  const [typed, setTyped] = useState(template);
  const checked = fileNameTemplateSchema.safeParse(typed);
  const example = checked.success && trackFileName({ show: show.name, episode: filled.episode, take: 1, date: new Date().toISOString().slice(0, 10), place: 2, name: filled.guest, kind: 'voice' }, checked.data);
  return (
    <Box mb="8px">
      <Text as="label" fontSize="14px">
        Files are called
        <Input
          size="sm"
          mt="4px"
          fontSize="13px"
          borderColor={checked.success ? 'hairline' : 'ember'}
          value={typed}
          aria-describedby="file-name-example"
          onChange={(event) => setTyped(event.target.value)}
          onBlur={() => checked.success && checked.data !== template && onChange(checked.data)}
        />
      </Text>
      <Text id="file-name-example" fontSize="13px" color={checked.success ? 'soft' : 'ember'} mt="4px" wordBreak="break-all">
        {example ? `${example}.wav` : checked.error?.issues[0].message}
      </Text>
      <Text fontSize="13px" color="soft">
        Fields: {Object.entries(FILE_NAME_FIELDS).map(([field]) => `{${field}}`).join(' ')}
      </Text>
    </Box>
  );
}
