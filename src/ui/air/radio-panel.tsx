'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { codingWords, MOST_STATIONS, type Station } from '@/core/air/station';
import { isOn } from '@/live/air/air-state';
import { mixTitle } from '../devices/outlet-words';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { placeInWords } from './air-words';
import { StationSheet } from './station-sheet';

/** Where mixes leave for internet radio: the show's stations, before they are on the air. */
export function RadioPanel() {
  const stations = useDeskState((state) => state.air.stations);
  const [changing, setChanging] = useState<Station | 'new' | null>(null);
  return (
    <Panel title="Internet radio" aside={stations.length === 0 ? 'nothing is sent to the air' : undefined}>
      {stations.map((station) => (
        <StationRow key={station.id} station={station} onChange={() => setChanging(station)} />
      ))}
      <Flex gap="12px" align="center" wrap="wrap" mt={stations.length > 0 ? '8px' : '0'}>
        <ControlButton h="32px" disabled={stations.length >= MOST_STATIONS} onClick={() => setChanging('new')}>
          Add a station
        </ControlButton>
        <Text fontSize="13px" color="soft">
          {stations.length === 0 ? 'Send the program, or a feed, to a radio server while you record. The practice radio on this machine needs nothing.' : 'Going on the air, and off it, is done on Live.'}
        </Text>
      </Flex>
      {changing !== null && <StationSheet station={changing === 'new' ? null : changing} onClose={() => setChanging(null)} />}
    </Panel>
  );
}

function StationRow({ station: { id, settings, hasPassword }, onChange }: { station: Station; onChange(): void }) {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const on = useDeskState((state) => isOn(state.air.broadcasts[id]));
  const lacksPassword = !hasPassword && settings.address !== 'practice';
  return (
    <Flex role="group" aria-label={settings.name} align="center" gap="12px" py="8px" _notFirst={{ borderTopWidth: '1px', borderColor: 'hairline' }}>
      <Box flex="1" minW="0">
        <Text fontSize="14px" fontWeight="600" truncate>
          {mixTitle(plan, settings.listener)} → {settings.name}
        </Text>
        <Text fontSize="13px" color="soft" truncate>
          {placeInWords(settings)} · {codingWords(settings.coding)} · {settings.levelled ? 'at the show’s loudness' : 'at its own loudness'}
        </Text>
        {lacksPassword && (
          <Text fontSize="13px" color="ember">
            No password is set: the server will not take it.
          </Text>
        )}
      </Box>
      {on && (
        <Text fontSize="13px" color="lampCore">
          on the air
        </Text>
      )}
      <ControlButton h="28px" aria-label={`Change ${settings.name}`} onClick={onChange}>
        Change
      </ControlButton>
      <ControlButton h="28px" disabled={on} aria-label={`Remove ${settings.name}`} onClick={() => void desk.air.removeStation(id)}>
        Remove
      </ControlButton>
    </Flex>
  );
}
