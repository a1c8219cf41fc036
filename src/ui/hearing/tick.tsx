import { Checkbox } from '@chakra-ui/react';
import type { ReactNode } from 'react';

/** One thing that is so or is not. */
export function Tick({ checked, title, onChange, children }: { checked: boolean; title?: string; onChange(checked: boolean): void; children: ReactNode }) {
  return (
    <Checkbox.Root size="sm" checked={checked} title={title} onCheckedChange={(now) => onChange(now.checked === true)}>
      <Checkbox.HiddenInput />
      <Checkbox.Control borderColor="faint" _checked={{ bg: 'lamp', borderColor: 'lamp', color: 'onLight' }} />
      <Checkbox.Label fontSize="13.5px">{children}</Checkbox.Label>
    </Checkbox.Root>
  );
}
