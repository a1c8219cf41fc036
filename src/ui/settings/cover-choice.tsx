'use client';

import { Box, chakra, Flex, Text } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';
import { ControlButton } from '../shell/control-button';
import { FileInput } from '../shell/file-input';
import { useShowSettings } from './show-settings';

const Picture = chakra('img');

/** The picture that finished MP3 files carry. */
export function CoverChoice() {
  const address = `/api/shows/${useShowSettings().show.id}/cover`;
  const input = useRef<HTMLInputElement>(null);
  const [picture, setPicture] = useState<string | null>(null);
  const [trouble, setTrouble] = useState('');
  useEffect(() => {
    let gone = false;
    // A show without a cover is no error, so it is asked for here and not by the picture itself.
    void fetch(address, { method: 'GET' })
      .then(async (response) => !gone && setPicture(response.status === 200 ? URL.createObjectURL(await response.blob()) : null))
      .catch(() => undefined);
    return () => {
      gone = true;
    };
  }, [address]);
  const change = async (file: File | null): Promise<void> => {
    const response = await fetch(address, file ? { method: 'PUT', body: file } : { method: 'DELETE' }).catch(() => null);
    if (response?.ok) {
      setTrouble('');
      return setPicture(file ? URL.createObjectURL(file) : null);
    }
    const { message } = (await response?.json().catch(() => null)) ?? { message: 'The server cannot be reached. The cover was not changed.' };
    setTrouble(message);
  };
  return (
    <Box mb="8px">
      <Flex align="center" justify="space-between" gap="10px">
        <Text fontSize="14px">Cover of MP3 files</Text>
        <Flex gap="8px" align="center">
          {picture && <Picture src={picture} alt="The cover" w="38px" h="38px" objectFit="cover" borderRadius="4px" />}
          <ControlButton h="30px" onClick={() => input.current?.click()}>
            {picture ? 'Another picture' : 'Choose a picture'}
          </ControlButton>
          {picture && (
            <ControlButton h="30px" aria-label="Remove the cover" onClick={() => void change(null)}>
              None
            </ControlButton>
          )}
        </Flex>
        <FileInput ref={input} label="Cover of MP3 files" accept="image/png,image/jpeg" onFile={(file) => void change(file)} />
      </Flex>
      {trouble && (
        <Text role="alert" fontSize="13px" color="ember" mt="4px">
          {trouble}
        </Text>
      )}
    </Box>
  );
}
