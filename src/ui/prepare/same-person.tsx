'use client';

import { Flex, NativeSelect, Text } from '@chakra-ui/react';
import { otherLinesOf, withSamePerson } from '@/core/hearing/persons';
import { listInWords } from '@/core/hearing/names';
import type { DeskSeat } from '@/core/session/desk-data';
import { useDesk, useDeskState } from '../shell/desk-context';

/** Says that two seats are one person on two lines: nobody must hear their own other line, and others hear the voice twice. */
export function SamePerson({ seat, asked }: { seat: DeskSeat; asked: boolean }) {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const same = otherLinesOf(plan, seat.id);
  const others = plan.seats.filter(({ id, role }) => id !== seat.id && role !== 'producer');
  if (others.length === 0 || !plan.seats.some(({ id }) => id === seat.id)) return null;
  const choose = (other: string) => desk.plan.change((now) => withSamePerson(now, seat.id, other === '' ? null : other));
  if (same.length === 0 && !asked) return null;
  return (
    <Flex align="center" gap="8px" mt="6px" fontSize="13px" color="soft">
      <Text flex="none">Same person as</Text>
      <NativeSelect.Root size="xs" w="150px">
        <NativeSelect.Field aria-label={`${seat.name} is the same person as`} value={same[0]?.id ?? ''} bg="ground" borderColor="hairline" color="text" onChange={(event) => choose(event.target.value)}>
          <option value="">nobody else</option>
          {others.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {same.length > 0 && <Text lineHeight="1.3">Neither return carries the voice of {listInWords([seat.name, ...same.map(({ name }) => name)])}.</Text>}
    </Flex>
  );
}
