'use client';

import { Box } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { isLost, isOn } from '@/live/air/air-state';
import type { DeskState } from '@/live/desk/desk-state';
import { useDesk, useDeskState } from '../shell/desk-context';
import { HeaderLink } from '../shell/header-link';
import { stateInWords } from './air-words';

/** In every room, while something is sent: whether it arrives, and the way to where it ends. */
export function AirLamp({ otherwise }: { otherwise: ReactNode }) {
  const desk = useDesk();
  const words = useDeskState(stationsInWords);
  const label = useDeskState(labelOf);
  if (words === '') return otherwise;
  const lit = label === 'On air';
  const lost = label === 'Air lost';
  return (
    <HeaderLink lost={lost} href={`/episodes/${desk.data.episode.id}/live`} aria-label={words} title={words}>
      <Box as="span" aria-hidden boxSize="9px" borderRadius="full" bg={lit ? 'lamp' : 'transparent'} borderWidth="2px" borderColor={lost ? 'ember' : 'lamp'} />
      {label}
    </HeaderLink>
  );
}

const ongoing = ({ air }: DeskState) => air.stations.flatMap(({ id, settings }) => (isOn(air.broadcasts[id]) ? [{ settings, broadcast: air.broadcasts[id] }] : []));

const stationsInWords = (state: DeskState): string => ongoing(state).map(({ settings, broadcast }) => `${settings.name}: ${stateInWords(broadcast)}`).join('; ');

/** What is lost is said before what goes well; on the air is only what a server takes. */
function labelOf(state: DeskState): 'Air lost' | 'On air' | 'Connecting' {
  const all = ongoing(state);
  if (all.some(({ broadcast }) => isLost(broadcast))) return 'Air lost';
  return all.some(({ broadcast }) => broadcast.state === 'on') ? 'On air' : 'Connecting';
}
