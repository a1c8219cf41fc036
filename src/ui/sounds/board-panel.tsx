'use client';

import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors, type Announcements, type DragEndEvent } from '@dnd-kit/core';
import { arrayMove, SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { Flex, Input, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { DeskPad } from '@/core/session/desk-data';
import { asBoard, type BoardPad } from '@/core/sounds/board';
import { sendJson } from '@/live/api';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { PadRow } from './pad-row';

interface KeptBoard {
  name: string;
  pads: BoardPad[];
}

/** The pads of this episode in their order: dragged into place, each with its key and its manners. */
export function BoardPanel({ kept }: { kept: KeptBoard[] }) {
  const desk = useDesk();
  const pads = useDeskState((state) => state.pads);
  const [said, setSaid] = useState('');
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const tell = (error: Error) => setSaid(error.message);
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const place = (id: unknown) => pads.findIndex(({ sound }) => sound === id);
    void desk.pads.arrange((now) => arrayMove([...now], place(active.id), place(over.id))).then(() => setSaid(''), tell);
  };
  return (
    <Panel title="Board of this episode" aside={`${pads.length} ${pads.length === 1 ? 'pad' : 'pads'}`}>
      {pads.length === 0 && (
        <Text fontSize="14px" color="soft">
          No pads yet. “Pad” beside a sound of the library puts it here.
        </Text>
      )}
      <DndContext sensors={sensors} collisionDetection={closestCenter} accessibility={{ announcements: announce(pads) }} onDragEnd={drop}>
        <SortableContext items={pads.map(({ sound }) => sound)} strategy={verticalListSortingStrategy}>
          {pads.map((pad) => (
            <PadRow key={pad.sound} pad={pad} onSaid={setSaid} />
          ))}
        </SortableContext>
      </DndContext>
      <Text role="status" fontSize="13px" color="soft" mt="6px" minH="18px">
        {said}
      </Text>
      <KeptBoards kept={kept} onSaid={setSaid} />
    </Panel>
  );
}

/** What a screen reader says while a pad is moved. */
function announce(pads: readonly DeskPad[]): Announcements {
  const name = ({ id }: { id: unknown }) => pads.find(({ sound }) => sound === id)?.name ?? '';
  const place = (over: { id: unknown } | null) => (over ? `place ${pads.findIndex(({ sound }) => sound === over.id) + 1} of ${pads.length}` : 'no place');
  return {
    onDragStart: ({ active }) => `${name(active)} is picked up.`,
    onDragOver: ({ active, over }) => `${name(active)} is over ${place(over)}.`,
    onDragEnd: ({ active, over }) => `${name(active)} was put at ${place(over)}.`,
    onDragCancel: ({ active }) => `${name(active)} stays where it was.`,
  };
}

function KeptBoards({ kept, onSaid }: { kept: KeptBoard[]; onSaid(words: string): void }) {
  const desk = useDesk();
  const [boards, setBoards] = useState(kept);
  const [name, setName] = useState('');
  const keep = async () => {
    const board = { name: name.trim(), pads: asBoard(desk.store.getState().pads) };
    try {
      await sendJson('PUT', `/api/shows/${desk.data.episode.showId}/boards`, board);
      setBoards([...boards.filter((one) => one.name !== board.name), board]);
      setName('');
      onSaid(`“${board.name}” is saved for this show.`);
    } catch (error) {
      onSaid(`It was not kept. ${(error as Error).message}`);
    }
  };
  const begin = (board: KeptBoard) =>
    void desk.pads.arrange(() => board.pads).then(
      () => onSaid(`This episode has the board “${board.name}” now.`),
      (error: Error) => onSaid(error.message),
    );
  return (
    <>
      {boards.map((board) => (
        <Flex key={board.name} align="center" justify="space-between" mb="6px">
          <Text fontSize="14px">
            {board.name}{' '}
            <Text as="span" color="soft">
              {board.pads.length} pads
            </Text>
          </Text>
          <ControlButton h="28px" aria-label={`Use the board ${board.name}`} onClick={() => begin(board)}>
            Use this board
          </ControlButton>
        </Flex>
      ))}
      <Flex gap="7px">
        <Input size="sm" maxLength={60} aria-label="Name for this board" placeholder="usual sounds …" value={name} borderColor="hairline" onChange={(event) => setName(event.target.value)} />
        <ControlButton h="32px" disabled={name.trim() === ''} onClick={() => void keep()}>
          Save this board
        </ControlButton>
      </Flex>
    </>
  );
}
