'use client';

import { Box, Field, Flex, NativeSelect, Text, Textarea } from '@chakra-ui/react';
import { useState, type FormEvent } from 'react';
import { REFLEXIVES } from '@/core/hearing/plan';
import type { DeskSeat } from '@/core/session/desk-data';
import { calledNames, namesInText } from '@/core/session/names-in-text';
import { sendJson } from '@/live/api';
import { SelectOptions } from '../select-options';
import { FormField } from '../access/form-field';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { makeLink, type Made } from './made-link';

interface NewPeopleProps {
  /** People of the show who were there before. */
  known: string[];
  onMade(seat: string, made: Made): void;
  onDone(): void;
}

/** Writes down one person or several; each gets a place on the desk and a link at once. */
export function NewPeople({ known, onMade, onDone }: NewPeopleProps) {
  const desk = useDesk();
  const seats = useDeskState((state) => state.seats);
  const [text, setText] = useState('');
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const names = namesInText(text);
  const offered = known.filter((name) => !names.includes(name) && !seats.some(({ fullName }) => fullName === name));
  const { id: episode } = desk.data.episode;
  const addOne = async (fullName: string, name: string, more: Record<string, unknown>): Promise<void> => {
    const seat = await sendJson<DeskSeat>('POST', `/api/episodes/${episode}/seats`, { ...more, name, fullName });
    // Shown together with the link: one that is pressed for meanwhile would be stopped by this one.
    const made = await makeLink(episode, seat.id).catch((error: Error) => error);
    const { seats: there, invitations } = desk.store.getState();
    const isMade = !(made instanceof Error);
    desk.seats.set([...there, seat], isMade ? [...invitations, { seat: seat.id, expiresAt: made.expiresAt, openedAt: null }] : invitations);
    if (!isMade) throw made;
    onMade(seat.id, made);
  };
  const add = async (event: FormEvent<HTMLFormElement>): Promise<void> => {
    event.preventDefault();
    const more = Object.fromEntries(new FormData(event.currentTarget));
    delete more.fullName;
    setBusy(true);
    setTrouble(null);
    const left = [...names];
    const called = calledNames(names, desk.store.getState().seats.map(({ name }) => name));
    try {
      for (const [k, name] of names.entries()) {
        await addOne(name, (names.length === 1 && String(more.name).trim()) || called[k], more);
        left.shift();
      }
      onDone();
    } catch (error) {
      // Who was added stays; the others are still in the field.
      setText(left.join('\n'));
      setTrouble((error as Error).message);
    }
    setBusy(false);
  };
  return (
    <Box as="form" aria-label="Add somebody" mt="10px" p="12px" bg="ground" borderRadius="control" onSubmit={(event) => void add(event as unknown as FormEvent<HTMLFormElement>)}>
      <Field.Root required>
        <Field.Label fontSize="14px" color="soft">
          Full name, or several: one per line or separated by commas
        </Field.Label>
        <Textarea name="fullName" rows={3} fontSize="16px" bg="ground" borderColor="hairline" autoFocus value={text} onChange={(event) => setText(event.target.value)} placeholder={'Runa Velde\nIlyas Corm'} />
      </Field.Root>
      {offered.length > 0 && (
        <Flex gap="6px" wrap="wrap" mt="8px" align="center" fontSize="13px" color="soft">
          Known from before:
          {offered.slice(0, 8).map((name) => (
            <ControlButton key={name} h="28px" px="9px" fontSize="13px" onClick={() => setText([...names, name].join('\n'))}>
              {name}
            </ControlButton>
          ))}
        </Flex>
      )}
      <Flex gap="10px" mt="10px" align="end">
        <Choice label="Takes part as" name="role" options={[['caller', 'guest'], ['producer', 'producer']]} />
        <Box as="details" flex="1" fontSize="14px" color="soft">
          <Box as="summary" cursor="pointer" py="8px">
            More about them
          </Box>
          <Flex direction="column" gap="8px">
            {names.length <= 1 && <FormField label="What you call them" name="name" maxLength={60} placeholder="first name" />}
            <FormField label="Who they are" name="about" maxLength={120} />
            <Choice label="Sentences call them" name="reflexive" value="themselves" options={REFLEXIVES.map((one) => [one, one])} />
          </Flex>
        </Box>
      </Flex>
      <Flex gap="8px" mt="12px">
        <ControlButton type="submit" tone="lamp" disabled={names.length === 0} loading={busy}>
          {names.length > 1 ? `Add ${names.length}` : 'Add'}
        </ControlButton>
        <ControlButton onClick={onDone}>Not now</ControlButton>
      </Flex>
      <Text role="alert" fontSize="13px" color="ember">
        {trouble}
      </Text>
    </Box>
  );
}

function Choice({ label, name, value, options }: { label: string; name: string; value?: string; options: (readonly [string, string])[] }) {
  return (
    <Box as="label" fontSize="14px" color="soft" flex="none">
      {label}
      <NativeSelect.Root mt="6px" w="160px">
        <NativeSelect.Field name={name} defaultValue={value} bg="ground" borderColor="hairline" color="text">
          <SelectOptions options={options} />
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Box>
  );
}
