'use client';

import { useState } from 'react';
import { mayIn } from '@/core/access/rights';
import { useDesk, useDeskState } from '../shell/desk-context';
import { GroupsPanel } from './groups-panel';
import { RemovePanel } from './remove-panel';
import { SettingsGrid, SettingsSections } from './settings-sections';
import { SettingsProvider, type ShowSettings } from './show-settings';
import { TracksPanel } from './tracks-panel';

/** The show's settings as its desk has them, and what this episode does otherwise. */
export function EpisodeSettingsPage({ me }: { me: string }) {
  const desk = useDesk();
  const { episode, role } = desk.data;
  const [trouble, setTrouble] = useState('');
  const settings: ShowSettings = {
    show: { id: episode.showId, name: episode.show },
    role,
    me,
    example: { episode: episode.number, guest: useDeskState(({ seats }) => seats.find((seat) => seat.role === 'caller')?.name ?? 'Guest') },
    recording: useDeskState((state) => state.recordingSettings),
    sounds: useDeskState((state) => state.soundSettings),
    keys: useDeskState((state) => state.keys),
    pads: useDeskState((state) => state.pads),
    habits: useDeskState((state) => state.habits),
    showHabits: useDeskState((state) => state.showHabits),
    setRecording: (next) => desk.settings.setRecording(next),
    setSounds: (next) => desk.settings.setSounds(next),
    setKey: (action, key) => desk.settings.setKey(action, key),
    setHabits: (change) => desk.settings.setHabits(change),
    makeTheShows: () => desk.settings.makeHabitsTheShows(),
    run: (work) => void work.then(() => setTrouble(''), (error: Error) => setTrouble(`It was not kept. ${error.message}`)),
  };
  return (
    <SettingsProvider value={settings}>
      <SettingsGrid>
        <SettingsSections trouble={trouble}>
          <TracksPanel />
          <GroupsPanel />
          {mayIn(role, 'members') && <RemovePanel what="episode" name={episode.title} address={`/api/episodes/${episode.id}`} />}
        </SettingsSections>
      </SettingsGrid>
    </SettingsProvider>
  );
}
