import { Flex, NativeSelect, Text } from '@chakra-ui/react';
import { SelectOptions } from '../select-options';

interface SettingSelectProps {
  label: string;
  value: string;
  options: (readonly [value: string, words: string])[];
  onChoose(value: string): void;
}

/** A setting with a list of choices, its words on the left. */
export function SettingSelect({ label, value, options, onChoose }: SettingSelectProps) {
  return (
    <Flex align="center" justify="space-between" gap="10px">
      <Text fontSize="14px">{label}</Text>
      <NativeSelect.Root size="sm" w="226px" flex="none">
        <NativeSelect.Field aria-label={label} borderColor="hairline" bg="raised" value={value} onChange={(event) => onChoose(event.target.value)}>
          <SelectOptions options={options} />
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Flex>
  );
}
