'use client';

import { Box, Flex, Input, NativeSelect, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { SAMPLE_FORMATS, type SampleFormat } from '@/core/formats/wav/sample-format';
import { FILE_NAME_FIELDS, fileNameTemplateSchema, trackFileName } from '@/core/takes/file-name';
import { FORMAT_WORDS, type RecordingSettings } from '@/core/takes/recording-settings';
import { SelectOptions } from '../select-options';
import { useDesk, useDeskState } from '../shell/desk-context';
import { CoverChoice } from './cover-choice';

/** Loudness that stations and players ask for, LUFS. */
const TARGETS = [-14, -16, -18, -19, -23, -24];
const CEILINGS = [-1, -1.5, -2, -3];

/** How the show's takes are recorded and how finished files leave; a take that runs keeps the format it began with. */
export function RecordingChoices() {
  const desk = useDesk();
  const settings = useDeskState((state) => state.recordingSettings);
  const [trouble, setTrouble] = useState('');
  const change = (part: Partial<RecordingSettings>) => void desk.settings.setRecording({ ...settings, ...part }).then(() => setTrouble(''), (error: Error) => setTrouble(error.message));
  return (
    <>
      <Choice label="Takes are recorded in" value={settings.format} options={SAMPLE_FORMATS.map((one) => [one, FORMAT_WORDS[one]])} onChoose={(format) => change({ format: format as SampleFormat })} />
      <Choice label="Finished mixes have" value={String(settings.targetLufs)} options={withOwn(TARGETS, settings.targetLufs).map((lufs) => [String(lufs), `${minus(lufs)} LUFS`])} onChoose={(lufs) => change({ targetLufs: Number(lufs) })} />
      <Choice label="and stay under" value={String(settings.ceilingDb)} options={withOwn(CEILINGS, settings.ceilingDb).map((db) => [String(db), `${minus(db)} dB true peak`])} onChoose={(db) => change({ ceilingDb: Number(db) })} />
      <CoverChoice />
      <FileNames template={settings.fileNames} onChange={(fileNames) => change({ fileNames })} />
      {trouble && (
        <Text role="alert" fontSize="13px" color="ember" mb="8px">
          {trouble}
        </Text>
      )}
    </>
  );
}

const minus = (value: number): string => String(value).replace('-', '−');
const withOwn = (usual: readonly number[], own: number): number[] => (usual.includes(own) ? [...usual] : [...usual, own].sort((a, b) => b - a));

function Choice({ label, value, options, onChoose }: { label: string; value: string; options: [string, string][]; onChoose(value: string): void }) {
  return (
    <Flex align="center" justify="space-between" gap="10px" mb="8px">
      <Text fontSize="14px">{label}</Text>
      <NativeSelect.Root size="sm" w="224px">
        <NativeSelect.Field aria-label={label} borderColor="hairline" bg="raised" value={value} onChange={(event) => onChoose(event.target.value)}>
          <SelectOptions options={options} />
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Flex>
  );
}

/** The names of track files, with an example that follows the typing. */
function FileNames({ template, onChange }: { template: string; onChange(template: string): void }) {
  const desk = useDesk();
  const [typed, setTyped] = useState(template);
  const checked = fileNameTemplateSchema.safeParse(typed);
  const { show, number } = desk.data.episode;
  const example = checked.success && trackFileName({ show, episode: number, take: 1, date: new Date().toISOString().slice(0, 10), place: 2, name: desk.data.plan.seats.find(({ role }) => role === 'caller')?.name ?? 'Guest', kind: 'voice' }, checked.data);
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
