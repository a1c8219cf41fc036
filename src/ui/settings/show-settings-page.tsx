'use client';

import { Box, chakra, Flex, Heading } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useState } from 'react';
import { mayIn } from '@/core/access/rights';
import { sendJson } from '@/live/api';
import { ThemeSwitch } from '../shell/theme-switch';
import { RemovePanel } from './remove-panel';
import { SettingsGrid, SettingsSections } from './settings-sections';
import { SettingsProvider, type ShowSettings } from './show-settings';

const Link = chakra(NextLink);

export type GivenSettings = Pick<ShowSettings, 'show' | 'role' | 'me' | 'example' | 'recording' | 'sounds' | 'keys' | 'habits'>;

/** A show's settings by themselves, outside any episode. */
export function ShowSettingsPage({ given }: { given: GivenSettings }) {
  const [kept, setKept] = useState(given);
  const [trouble, setTrouble] = useState('');
  /** Shown at once, and shown as it was where it could not be kept. */
  const keep = async (change: Partial<GivenSettings>, address: string, body: object): Promise<void> => {
    const before = kept;
    setKept({ ...before, ...change });
    await sendJson('PUT', address, body, { keepalive: true }).catch((error: Error) => {
      setKept(before);
      throw error;
    });
  };
  const address = `/api/shows/${given.show.id}`;
  const settings: ShowSettings = {
    ...kept,
    pads: [],
    showHabits: null,
    setRecording: (recording) => keep({ recording }, `${address}/recording-settings`, recording),
    setSounds: (sounds) => keep({ sounds }, `${address}/sound-settings`, sounds),
    setKey: (action, key) => keep({ keys: { ...kept.keys, [action]: key } }, '/api/keys', { ...kept.keys, [action]: key }),
    setHabits: (change) => keep({ habits: { ...kept.habits, ...change } }, `${address}/habits`, { ...kept.habits, ...change }),
    makeTheShows: () => Promise.resolve(),
    run: (work) => void work.then(() => setTrouble(''), (error: Error) => setTrouble(`It was not kept. ${error.message}`)),
  };
  return (
    <Flex direction="column" h={{ base: 'auto', lg: '100dvh' }}>
      <Flex as="header" align="center" gap="16px" px="20px" h="66px" flex="none" borderBottomWidth="1px" borderColor="hairline">
        <Box minW="0">
          <Heading as="h1" fontFamily="heading" fontSize="19px" fontWeight="700" lineHeight="1.25" truncate>
            Settings of {kept.show.name}
          </Heading>
          <Link href="/" fontSize="13px" color="soft" _hover={{ color: 'text' }}>
            All episodes
          </Link>
        </Box>
        <Box ml="auto">
          <ThemeSwitch />
        </Box>
      </Flex>
      <SettingsProvider value={settings}>
        <SettingsGrid>
          <SettingsSections trouble={trouble}>{mayIn(kept.role, 'members') && <RemovePanel what="show" name={kept.show.name} address={address} />}</SettingsSections>
        </SettingsGrid>
      </SettingsProvider>
    </Flex>
  );
}
