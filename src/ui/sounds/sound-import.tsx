'use client';

import { Box, Flex, NativeSelect, Text } from '@chakra-ui/react';
import { Upload } from 'lucide-react';
import { useRef, useState, type DragEvent } from 'react';
import type { LibrarySound } from '@/core/sounds/library-sound';
import { KIND_WORDS, SOUND_KINDS, type SoundKind } from '@/core/sounds/sound-kind';
import { importSound } from '@/live/sounds/import-sound';
import { ControlButton } from '../shell/control-button';
import { useDesk } from '../shell/desk-context';

interface Coming {
  file: string;
  share: number;
  trouble: string | null;
  abort: AbortController;
}

/** Where sound files are dropped or chosen; each says how far it is, or why it cannot be a sound. */
export function SoundImport({ onImported }: { onImported(sound: LibrarySound): void }) {
  const desk = useDesk();
  const [kind, setKind] = useState<SoundKind>('clip');
  const [coming, setComing] = useState<Coming[]>([]);
  const [over, setOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const change = (abort: AbortController, next: Partial<Coming> | null) =>
    setComing((all) => all.flatMap((one) => (one.abort !== abort ? [one] : next === null ? [] : [{ ...one, ...next }])));

  /** One after another: each wants a core and some memory. */
  const bring = async (files: File[]) => {
    const queued = files.map((file) => ({ file, abort: new AbortController() }));
    setComing((all) => [...all, ...queued.map(({ file, abort }) => ({ file: file.name, share: 0, trouble: null, abort }))]);
    for (const { file, abort } of queued) {
      try {
        abort.signal.throwIfAborted();
        const show = desk.data.episode.showId;
        onImported(await importSound(file, { show, kind, settings: desk.store.getState().soundSettings, signal: abort.signal, onProgress: (share) => change(abort, { share }) }));
        change(abort, null);
      } catch (error) {
        change(abort, abort.signal.aborted ? null : { trouble: (error as Error).message });
      }
    }
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void bring([...event.dataTransfer.files]);
  };
  return (
    <Box
      mt="10px"
      p="10px"
      borderWidth="1px"
      borderStyle="dashed"
      borderColor={over ? 'lamp' : 'faint'}
      borderRadius="control"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <Flex align="center" gap="8px" wrap="wrap">
        <ControlButton onClick={() => input.current?.click()}>
          <Upload size={15} /> Add sound files
        </ControlButton>
        <NativeSelect.Root w="150px">
          <NativeSelect.Field aria-label="Kind of the files to add" value={kind} bg="ground" borderColor="hairline" onChange={(event) => setKind(event.target.value as SoundKind)}>
            {SOUND_KINDS.map((one) => (
              <option key={one} value={one} title={KIND_WORDS[one]}>
                as {one}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        <Text fontSize="13px" color="soft">
          or drop them here
        </Text>
        <input
          ref={input}
          type="file"
          multiple
          hidden
          aria-label="Sound files"
          accept="audio/*,.wav,.flac,.mp3,.m4a,.aac,.ogg,.opus"
          onChange={(event) => {
            void bring([...(event.target.files ?? [])]);
            event.target.value = '';
          }}
        />
      </Flex>
      {coming.map(({ file, share, trouble, abort }) => (
        <Flex key={`${file}-${coming.findIndex((one) => one.abort === abort)}`} mt="8px" align="center" gap="8px" fontSize="13px">
          <Text role={trouble ? 'alert' : 'status'} flex="1" minW="0" color={trouble ? 'ember' : 'soft'}>
            {trouble ?? `${file}: ${Math.round(share * 100)} %`}
          </Text>
          <ControlButton h="26px" px="9px" fontSize="12.5px" aria-label={trouble ? `Dismiss ${file}` : `Cancel ${file}`} onClick={() => (trouble ? change(abort, null) : abort.abort())}>
            {trouble ? 'Dismiss' : 'Cancel'}
          </ControlButton>
        </Flex>
      ))}
    </Box>
  );
}
