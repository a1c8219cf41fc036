'use client';

import { Box, chakra, Text } from '@chakra-ui/react';
import { useCallback, useRef, type KeyboardEvent } from 'react';
import { backToRule } from '@/core/hearing/audit/index';
import { setCrosspoint } from '@/core/hearing/edit';
import type { ListenerId, SourceId } from '@/core/hearing/ids';
import { crosspointOf, exceptionAt, operandFor } from '@/core/hearing/operands';
import type { OnAir } from '@/core/hearing/on-air';
import { placeNow } from '@/core/hearing/place-now';
import { HIGHEST_DB, listenersOf, listenerSettings, LOWEST_DB, sourceSettings, type HearingPlan, type Listener, type Source } from '@/core/hearing/plan';
import { RULE_IN_WORDS } from '@/core/hearing/sentences';
import { shortNames } from '@/core/hearing/short-names';
import { useRoom } from '../canvas';
import { useDesk, useDeskState } from '../shell/desk-context';
import { GridGlow } from './grid-glow';
import { GridCell } from './grid-cell';
import { gridSizes } from './grid-sizes';
import type { Selection } from './selection';

const HeadButton = chakra('button');
/** Id of the side panel's level field, which the key E goes to. */
export const LEVEL_FIELD = 'crosspoint-level';

interface HearingGridProps {
  sources: Source[];
  listeners: Listener[];
  selection: Selection;
  onSelect(selection: Selection): void;
}

/** Every source by every listener. One place has the focus; arrows move it. */
export function HearingGrid({ sources, listeners, selection, onSelect }: HearingGridProps) {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const onAir = useDeskState((state) => state.onAir);
  const everybody = listenersOf(plan);
  const grid = useRef<HTMLDivElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const cell = gridSizes(sources.length, listeners.length, useRoom(frame));
  const short = shortNames(listeners.map(({ name }) => name), 11);

  const change = useCallback(
    (source: SourceId, listener: ListenerId, what: 'toggle' | 'rule' | number) => {
      const current = desk.store.getState().plan;
      const operand = operandOf(current, sources, listeners, source, listener);
      if (!operand) return;
      const point = crosspointOf(current, operand);
      desk.plan.change((before) => {
        if (what === 'rule') return backToRule(before, source, listener);
        if (what === 'toggle') return setCrosspoint(before, source, listener, { ...point, open: !point.open });
        const gainDb = Math.min(HIGHEST_DB, Math.max(LOWEST_DB, point.gainDb + what));
        return setCrosspoint(before, source, listener, { open: true, gainDb });
      }, typeof what === 'number' ? `level:${source}:${listener}` : '');
    },
    [desk, sources, listeners],
  );

  const focusPlace = (row: number, column: number) => {
    const target = grid.current?.querySelector<HTMLElement>(`[data-row="${row}"][data-column="${column}"]`);
    target?.focus();
  };

  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>) => {
    const place = (event.target as HTMLElement).closest<HTMLElement>('[data-row]');
    if (!place || event.ctrlKey || event.metaKey || event.altKey) return;
    const row = Number(place.dataset.row);
    const column = Number(place.dataset.column);
    const source = sources[row]?.id;
    const listener = listeners[column]?.id;
    const moves: Record<string, [number, number]> = {
      ArrowUp: [Math.max(-1, row - 1), column],
      ArrowDown: [Math.min(sources.length - 1, row + 1), column],
      ArrowLeft: [row, Math.max(-1, column - 1)],
      ArrowRight: [row, Math.min(listeners.length - 1, column + 1)],
      Home: [row, 0],
      End: [row, listeners.length - 1],
    };
    const act: Record<string, () => void> = {
      ' ': () => change(source, listener, 'toggle'),
      '+': () => change(source, listener, 1),
      '=': () => change(source, listener, 1),
      '-': () => change(source, listener, -1),
      Backspace: () => change(source, listener, 'rule'),
      Delete: () => change(source, listener, 'rule'),
      e: () => document.getElementById(LEVEL_FIELD)?.focus(),
    };
    const move = moves[event.key];
    const isCell = row >= 0 && column >= 0;
    if (!move && !(isCell && act[event.key])) return;
    event.preventDefault();
    event.stopPropagation();
    if (move) focusPlace(...move);
    else act[event.key]();
  };

  return (
    <Box ref={frame} flex="1" minH="0">
      <Box
        ref={grid}
        role="grid"
        aria-label="Who is heard by whom"
        aria-rowcount={sources.length + 1}
        aria-colcount={listeners.length + 1}
        position="relative"
        overflow="auto"
        maxH="100%"
        bg="surface"
        borderWidth="1px"
        borderColor="hairline"
        borderRadius="lane"
        onKeyDown={onKeyDown}
      >
        <Box position="relative" w={`${cell.side + listeners.length * cell.width}px`}>
          <GridGlow sources={sources} listeners={listeners} cell={cell} />
          <Box role="row" display="flex" position="sticky" top="0" zIndex="2" bg="surface">
            <Box role="columnheader" w={`${cell.side}px`} h={`${cell.head}px`} flex="none" position="sticky" left="0" bg="surface" px="12px" pt={`${cell.head - 26}px`} fontSize="12px" color="faint">
              is heard ↓ by →
            </Box>
            {listeners.map((listener, column) => (
              <Box role="columnheader" key={listener.id} w={`${cell.width}px`} flex="none">
                <Head
                  row={-1}
                  column={column}
                  name={cell.bare ? short[column] : listener.name}
                  note={listenerNote(plan.waiting, listener)}
                  title={RULE_IN_WORDS[listenerSettings(plan, listener.id).rule]}
                  selected={selection.listener === listener.id && selection.source === null}
                  height={cell.head}
                  across={cell.bare ? 'aslant' : 'centred'}
                  onSelect={() => onSelect({ source: null, listener: listener.id })}
                />
              </Box>
            ))}
          </Box>
          {sources.map((source, row) => (
            <Box role="row" key={source.id} display="flex" borderTopWidth="1px" borderColor="hairline" h={`${cell.height}px`}>
              <Box role="rowheader" w={`${cell.side}px`} flex="none" position="sticky" left="0" zIndex="1" bg="surface">
                <Head
                  row={row}
                  column={-1}
                  name={source.name}
                  note={sourceNote(plan, onAir, source)}
                  title={`Select everything of ${source.name}`}
                  selected={selection.source === source.id && selection.listener === null}
                  height={cell.height - 1}
                  across={cell.bare ? 'one-line' : undefined}
                  onSelect={() => onSelect({ source: source.id, listener: null })}
                />
              </Box>
              {listeners.map((listener, column) => {
                const { state, gainDb } = placeNow(plan, onAir, source, listener, everybody);
                const isFirst = row === 0 && column === 0 && selection.source === null && selection.listener === null;
                const selected = selection.source === source.id && selection.listener === listener.id;
                return (
                  <GridCell
                    key={listener.id}
                    row={row}
                    column={column}
                    width={cell.width}
                    height={cell.height - 1}
                    source={source}
                    listener={listener}
                    state={state}
                    gainDb={gainDb}
                    byHand={exceptionAt(plan, listener.id, source.id) !== undefined}
                    selected={selected}
                    tabStop={selected || isFirst}
                    onSelect={onSelect}
                    onToggle={change}
                  />
                );
              })}
            </Box>
          ))}
        </Box>
      </Box>
    </Box>
  );
}

function operandOf(_plan: object, sources: Source[], listeners: Listener[], sourceId: SourceId, listenerId: ListenerId) {
  const source = sources.find(({ id }) => id === sourceId);
  const listener = listeners.find(({ id }) => id === listenerId);
  return source && listener ? operandFor(source, listener) : null;
}

interface HeadProps {
  row: number;
  column: number;
  name: string;
  note: string;
  title: string;
  selected: boolean;
  height: number;
  /** How it is written: in the middle of a column, aslant over a narrow one, or in one line. */
  across?: 'centred' | 'aslant' | 'one-line';
  onSelect(): void;
}

/** A name over a column that is narrower than it. */
const ASLANT = { position: 'absolute', bottom: '4px', left: '55%', whiteSpace: 'nowrap', transform: 'rotate(-62deg)', transformOrigin: 'left bottom' } as const;

/** Name of a row or column; selecting it changes all of it at once. */
function Head({ row, column, name, note, title, selected, height, across, onSelect }: HeadProps) {
  return (
    <HeadButton
      type="button"
      data-row={row}
      data-column={column}
      aria-pressed={selected}
      title={across === 'aslant' || across === 'one-line' ? `${note}. ${title}` : title}
      tabIndex={0}
      onClick={onSelect}
      onFocus={onSelect}
      display="block"
      w="100%"
      h={`${height}px`}
      px={across === 'centred' ? '4px' : across === 'aslant' ? '0' : '12px'}
      textAlign={across === 'centred' ? 'center' : 'left'}
      color={selected ? 'lampCore' : 'text'}
      position="relative"
      overflow={across === 'aslant' ? 'visible' : 'hidden'}
    >
      <Text
        fontFamily="heading"
        fontWeight="700"
        fontSize={across === 'aslant' ? '13px' : across ? '15px' : '16px'}
        lineHeight="1.2"
        {...(across === 'aslant' ? ASLANT : { truncate: true })}
      >
        {name}
      </Text>
      {(across === undefined || across === 'centred') && (
        <Text fontSize="12px" color="soft" truncate>
          {note}
        </Text>
      )}
    </HeadButton>
  );
}

function listenerNote(waiting: readonly string[], listener: Listener): string {
  if (listener.kind === 'return') return waiting.includes(listener.seat.id) ? 'return, waiting' : 'return';
  return { phones: 'phones', program: 'recorded', feed: 'feed' }[listener.kind];
}

function sourceNote(plan: HearingPlan, { held, cough }: OnAir, source: Source): string {
  if (held.includes(source.id)) return 'kept out of every mix';
  if (cough[source.id]) return 'muted by the cough key';
  if (source.kind === 'voice' && plan.waiting.includes(source.seat.id)) return 'waiting';
  if (!sourceSettings(plan, source.id).on) return 'off';
  switch (source.kind) {
    case 'voice':
      return source.seat.role === 'host' ? 'host' : source.seat.line;
    case 'sounds':
      return 'pads';
    case 'share':
      return 'shared sound';
    case 'input':
      return 'through a device';
    case 'talkback':
      return 'opens while talking';
  }
}
