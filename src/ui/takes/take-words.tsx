'use client';

import { Flex, Input, Text, Textarea } from '@chakra-ui/react';
import { Trash2, Undo2 } from 'lucide-react';
import { useState } from 'react';
import type { TakeData } from '@/core/session/take-data';
import { sendJson } from '@/live/api';
import { ControlButton } from '../shell/control-button';
import { Panel } from '../shell/panel';

/** A take's own name and note; and the bin, from which it can be brought back for thirty days. */
export function TakeWords({ take }: { take: TakeData }) {
  const [name, setName] = useState(take.name);
  const [note, setNote] = useState(take.note);
  const [binned, setBinned] = useState(take.binnedAt !== null);
  const [said, setSaid] = useState('');
  const keep = (change: object, words: string) =>
    void sendJson('PATCH', `/api/takes/${take.id}`, change).then(
      () => {
        setSaid(words);
        if ('binned' in change) setBinned(change.binned as boolean);
      },
      (error: Error) => setSaid(error.message),
    );
  return (
    <Panel title="This take">
      <Flex direction="column" gap="7px">
        <Input size="sm" borderColor="hairline" maxLength={80} aria-label="Name of this take" placeholder="name it …" value={name} onChange={(event) => setName(event.target.value)} onBlur={() => name !== take.name && keep({ name }, 'The name is kept.')} />
        <Textarea size="sm" rows={2} borderColor="hairline" maxLength={2000} aria-label="Note to this take" placeholder="a note for whoever edits it …" value={note} onChange={(event) => setNote(event.target.value)} onBlur={() => note !== take.note && keep({ note }, 'The note is kept.')} />
        <Flex align="center" gap="8px">
          <ControlButton h="28px" px="10px" fontSize="13px" onClick={() => keep({ binned: !binned }, binned ? 'It is back.' : 'It is in the bin for 30 days, then gone.')}>
            {binned ? <Undo2 size={14} /> : <Trash2 size={14} />} {binned ? 'Bring it back' : 'Put into the bin'}
          </ControlButton>
          <Text role="status" fontSize="13px" color="soft">
            {said}
          </Text>
        </Flex>
      </Flex>
    </Panel>
  );
}
