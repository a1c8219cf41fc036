'use client';

import { chakra } from '@chakra-ui/react';
import type { KeyboardEvent } from 'react';

const Field = chakra('input');

/** A key that is changed by pressing another one in its field. */
export function KeyField({ label, value, onKey }: { label: string; value: string; onKey(key: string): void }) {
  const press = (event: KeyboardEvent) => {
    if (['Tab', 'Shift', 'Escape'].includes(event.key)) return;
    event.preventDefault();
    onKey(event.key.toLowerCase());
  };
  return (
    <Field
      readOnly
      aria-label={label}
      value={value.toUpperCase()}
      w="40px"
      h="26px"
      flex="none"
      textAlign="center"
      bg="raised"
      borderWidth="1px"
      borderColor="hairline"
      borderRadius="6px"
      fontSize="13px"
      onKeyDown={press}
    />
  );
}
