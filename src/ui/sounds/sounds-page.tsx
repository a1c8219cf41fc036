'use client';

import { Flex, Grid } from '@chakra-ui/react';
import { useState } from 'react';
import type { BoardPad } from '@/core/sounds/board';
import type { LibrarySound } from '@/core/sounds/library-sound';
import { useDesk } from '../shell/desk-context';
import { BoardPanel } from './board-panel';
import { DuckingPanel } from './ducking-panel';
import { LibraryPanel } from './library-panel';
import { MidiPanel } from './midi-panel';
import { SoundEditor } from './sound-editor';

interface SoundsPageProps {
  sounds: LibrarySound[];
  boards: { name: string; pads: BoardPad[] }[];
}

/** What can be played into the call: the show's library, this episode's board, and how sounds behave. */
export function SoundsPage({ sounds: given, boards }: SoundsPageProps) {
  const desk = useDesk();
  const [sounds, setSounds] = useState(given);
  const [editing, setEditing] = useState<string | null>(null);
  const replace = (next: LibrarySound) => {
    setSounds((all) => all.map((one) => (one.id === next.id ? next : one)));
    void desk.pads.soundChanged(next);
  };
  const edited = sounds.find(({ id }) => id === editing);
  return (
    <Grid as="main" templateColumns={{ base: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) minmax(0, 1fr) 264px', xl: 'minmax(0, 1fr) minmax(0, 1fr) 312px' }} gap="12px" p="12px" flex="1" minH="0" overflowY="auto" alignContent="start" alignItems="start">
      <LibraryPanel sounds={sounds} onSounds={setSounds} onChange={replace} onEdit={setEditing} />
      <BoardPanel kept={boards} />
      <Flex direction="column" gap="10px">
        <DuckingPanel />
        <MidiPanel />
      </Flex>
      {edited && <SoundEditor sound={edited} onChange={replace} onClose={() => setEditing(null)} />}
    </Grid>
  );
}
