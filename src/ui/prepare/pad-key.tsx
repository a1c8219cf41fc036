'use client';

import { chakra } from '@chakra-ui/react';

const KeyField = chakra('input');

/** The key of a pad: press another one in its field. */
export function PadKey({ name, value, onKey }: { name: string; value: string; onKey(key: string): void }) {
  return (
    <KeyField
      readOnly
      aria-label={`Key of ${name}`}
      value={value.toUpperCase()}
      w="34px"
      h="28px"
      flex="none"
      textAlign="center"
      bg="raised"
      borderWidth="1px"
      borderColor="hairline"
      borderRadius="6px"
      fontSize="13px"
      onKeyDown={(event) => {
        if (['Tab', 'Shift', 'Escape'].includes(event.key)) return;
        event.preventDefault();
        onKey(event.key.toLowerCase());
      }}
    />
  );
}
