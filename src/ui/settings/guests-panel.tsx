'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useCallback, useEffect, useState } from 'react';
import { getJson, sendJson } from '@/live/api';
import { counted } from '../plural';
import { ControlButton } from '../shell/control-button';
import { Panel } from '../shell/panel';
import { useShowSettings } from './show-settings';

interface Guest {
  name: string;
  episodes: number[];
  takes: number;
}

interface Erasure {
  takes: number;
  tracks: number;
  mixes: number;
}

/** What it means, before it is done. */
const MEANING = 'Their tracks, the mixes they are in, files made of those, their link, their messages and their name go for good. Their place in each take stays, without them.';
/** What no server can know. */
const BEYOND = 'What was downloaded, what others’ microphones heard of them, and backups made before are not reached from here.';

/** Whom a show has had as guests, and how everything of one of them is erased. Only its owners see this. */
export function GuestsPanel() {
  const { show } = useShowSettings();
  const [guests, setGuests] = useState<Guest[]>([]);
  const [asking, setAsking] = useState('');
  const [said, setSaid] = useState({ words: '', trouble: false });
  const address = `/api/shows/${show.id}/guests`;
  const tell = (error: Error) => setSaid({ words: error.message, trouble: true });
  const load = useCallback(() => getJson<Guest[]>(address).then(setGuests, (error: Error) => setSaid({ words: error.message, trouble: true })), [address]);
  useEffect(() => void load(), [load]);
  const erase = (name: string) =>
    void sendJson<Erasure>('DELETE', address, { name }).then(({ takes, tracks, mixes }) => {
      setAsking('');
      setSaid({ words: `${name} was erased: ${counted(tracks, 'track')} and ${counted(mixes, 'mix', 'mixes')} in ${counted(takes, 'take')}. ${BEYOND}`, trouble: false });
      void load();
    }, tell);
  return (
    <Panel title={`Guests of ${show.name}`} aside={guests.length === 0 ? 'nobody yet' : undefined}>
      <Box as="ul" listStyleType="none" maxH="260px" overflowY="auto">
        {guests.map(({ name, episodes, takes }) => (
          <Box as="li" key={name} py="5px">
            <Flex gap="12px" align="center">
              <Text flex="1" minW="0">
                {name}{' '}
                <Text as="span" color="soft" fontSize="14px">
                  {episodes.length === 1 ? 'episode' : 'episodes'} {episodes.join(', ')} · {takes === 0 ? 'no take' : counted(takes, 'take')}
                </Text>
              </Text>
              <ControlButton h="30px" fontSize="13px" aria-label={`Erase everything of ${name} …`} onClick={() => (setAsking(name), setSaid({ words: '', trouble: false }))}>
                Erase …
              </ControlButton>
            </Flex>
          </Box>
        ))}
      </Box>
      {asking !== '' && (
        <Box borderTopWidth="1px" borderColor="hairline" mt="8px" pt="10px">
          <Text fontSize="14px" color="soft" mb="8px">
            {MEANING} {BEYOND}
          </Text>
          <Flex gap="8px" wrap="wrap">
            <ControlButton tone="ember" onClick={() => erase(asking)}>
              Erase everything of {asking}
            </ControlButton>
            <ControlButton onClick={() => setAsking('')}>Keep it</ControlButton>
          </Flex>
        </Box>
      )}
      <Text role="alert" fontSize="14px" color={said.trouble ? 'ember' : 'soft'}>
        {said.words}
      </Text>
    </Panel>
  );
}
