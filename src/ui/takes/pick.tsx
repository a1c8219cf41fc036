import { NativeSelect } from '@chakra-ui/react';
import { SelectOptions } from '../select-options';

/** A list of choices that needs no words beside it. */
export function Pick({ label, value, options, onPick }: { label: string; value: string; options: [string, string][]; onPick(value: string): void }) {
  return (
    <NativeSelect.Root size="sm" flex="1">
      <NativeSelect.Field aria-label={label} borderColor="hairline" bg="raised" value={value} onChange={(event) => onPick(event.target.value)}>
        <SelectOptions options={options} />
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}
