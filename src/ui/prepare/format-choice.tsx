'use client';

import { Flex, NativeSelect, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { SAMPLE_FORMATS, type SampleFormat } from '@/core/formats/wav/sample-format';
import { FORMAT_WORDS } from '@/core/takes/recording-settings';
import { useDesk, useDeskState } from '../shell/desk-context';

/** How the show's takes hold their samples; a take that runs keeps the format it began with. */
export function FormatChoice() {
  const desk = useDesk();
  const format = useDeskState((state) => state.recordingSettings.format);
  const [trouble, setTrouble] = useState('');
  const choose = (next: SampleFormat) => void desk.setRecordingSettings({ format: next }).then(() => setTrouble(''), (error: Error) => setTrouble(error.message));
  return (
    <>
      <Flex align="center" justify="space-between" gap="10px" mb="8px">
        <Text fontSize="14px">Takes are recorded in</Text>
        <NativeSelect.Root size="sm" w="224px">
          <NativeSelect.Field aria-label="Takes are recorded in" borderColor="hairline" bg="raised" value={format} onChange={(event) => choose(event.target.value as SampleFormat)}>
            {SAMPLE_FORMATS.map((one) => (
              <option key={one} value={one}>
                {FORMAT_WORDS[one]}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Flex>
      {trouble && (
        <Text role="alert" fontSize="13px" color="ember" mb="8px">
          {trouble}
        </Text>
      )}
    </>
  );
}
