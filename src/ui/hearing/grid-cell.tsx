'use client';

import { Box, chakra, Text } from '@chakra-ui/react';
import { Clock, Ear, Lock, MicOff, PowerOff, type LucideIcon } from 'lucide-react';
import { memo } from 'react';
import type { ListenerId, SourceId } from '@/core/hearing/ids';
import { listenerName } from '@/core/hearing/names';
import type { PlaceState } from '@/core/hearing/place-now';
import type { Listener, Source } from '@/core/hearing/plan';
import { formatDb } from '../format';
import type { Selection } from './selection';

const Place = chakra('button');

interface GridCellProps {
  row: number;
  column: number;
  width: number;
  height: number;
  source: Source;
  listener: Listener;
  state: PlaceState;
  gainDb: number;
  byHand: boolean;
  selected: boolean;
  tabStop: boolean;
  onSelect(selection: Selection): void;
  onToggle(source: SourceId, listener: ListenerId, what: 'toggle'): void;
}

/** Why a lamp that is set does not burn now, in a word. */
const STATE_WORDS: Record<PlaceState, string> = { wall: '', dark: '', lit: '', waiting: 'waiting', held: 'held', coughed: 'cough', off: 'off', 'kept-out': 'off here', listening: 'not now' };

/** Places that are no higher show their lamp alone. */
const BARE = 36;
/** And beside a lamp that is no wider apart from the next there is no room for a word. */
const NARROW = 120;

const STATE_ICONS: Partial<Record<PlaceState, LucideIcon>> = { waiting: Clock, held: Lock, coughed: MicOff, off: PowerOff, 'kept-out': PowerOff, listening: Ear };

/** One place of the grid: a lamp that is lit or dark, or the bare wall of an own voice. */
export const GridCell = memo(function GridCell(props: GridCellProps) {
  const { row, column, source, listener, state, gainDb, byHand, selected, onSelect } = props;
  const select = () => onSelect({ source: source.id, listener: listener.id });
  const shared = {
    'data-row': row,
    'data-column': column,
    tabIndex: props.tabStop ? 0 : -1,
    onFocus: select,
    onClick: select,
    'aria-selected': selected,
    w: `${props.width}px`,
    h: `${props.height}px`,
    flex: 'none',
    outlineOffset: '-3px',
    boxShadow: selected ? 'inset 0 0 0 2px var(--selected)' : undefined,
    borderRadius: '10px',
    css: { '--selected': 'colors.lampCore' },
  } as const;
  if (state === 'wall') {
    const wall = source.kind === 'talkback' ? 'private' : 'own voice';
    return (
      <Box
        {...shared}
        role="gridcell"
        aria-label={`${source.name} in ${listenerName(listener)}: ${wall}, no lamp can be fitted`}
        display="grid"
        placeItems="center"
        color="faint"
        fontSize="12px"
        bgImage="repeating-linear-gradient(135deg, var(--stripe) 0 6px, transparent 6px 13px)"
        css={{ '--stripe': 'color-mix(in srgb, var(--chakra-colors-hairline) 45%, transparent)', '--selected': 'colors.lampCore' }}
      >
        {props.height > BARE ? wall : ''}
      </Box>
    );
  }
  const brightness = Math.min(1, Math.max(0.42, 1 + gainDb / 28));
  const lit = state === 'lit';
  const roomy = props.height > BARE && props.width > NARROW;
  const level = lit ? formatDb(gainDb) : STATE_WORDS[state];
  const Icon = STATE_ICONS[state];
  return (
    <Place
      {...shared}
      type="button"
      role="gridcell"
      aria-label={`${source.name} in ${listenerName(listener)}: ${lit ? formatDb(gainDb) : state === 'dark' ? 'closed' : `${STATE_WORDS[state]}, set to ${formatDb(gainDb)}`}${byHand ? ', changed by hand' : ''}`}
      onDoubleClick={() => props.onToggle(source.id, listener.id, 'toggle')}
      position="relative"
      title={props.height > BARE ? undefined : `${source.name} in ${listenerName(listener)}: ${lit ? formatDb(gainDb) : STATE_WORDS[state] || 'closed'}`}
      cursor="pointer"
      _hover={{ bg: 'color-mix(in srgb, var(--chakra-colors-raised) 55%, transparent)' }}
    >
      {byHand && !roomy && <Box position="absolute" top={props.height > BARE ? '8px' : '3px'} right={props.height > BARE ? '10px' : '3px'} boxSize="6px" borderRadius="full" bg="tide" aria-hidden />}
      {byHand && roomy && (
        <Text position="absolute" top="3px" right="6px" fontSize="12px" color="tide">
          changed
        </Text>
      )}
      <Box
        display="grid"
        placeItems="center"
        mx="auto"
        boxSize={props.height > 60 ? '24px' : props.height > BARE ? '17px' : '15px'}
        borderRadius="full"
        color="soft"
        bg={lit ? 'lamp' : 'transparent'}
        borderWidth={lit ? '0' : '1.5px'}
        // A lamp that is set and does not burn now is drawn broken, with the reason in it.
        borderStyle={Icon ? 'dashed' : 'solid'}
        borderColor={Icon ? 'soft' : 'faint'}
        opacity={lit ? brightness : 1}
      >
        {Icon && <Icon size={props.height > 60 ? 13 : 10} aria-hidden />}
      </Box>
      {props.height > BARE && (
        <Text fontSize="12px" lineHeight="1.1" mt="5px" color={lit ? 'text' : Icon ? 'soft' : 'faint'}>
          {level || ' '}
        </Text>
      )}
    </Place>
  );
});
