import { Slider } from '@chakra-ui/react';

interface LevelSliderProps {
  label: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  /** What the number means, for screen readers. */
  unit?: string;
  /** The same where a number and a unit do not say it. */
  inWords?(value: number): string;
  disabled?: boolean;
  onChange(db: number): void;
  onChangeEnd?(): void;
}

/** A level in dB, set with the pointer or the arrow keys; its number is written beside it. */
export function LevelSlider({ label, value, min, max, step = 0.5, unit = ' dB', inWords, disabled, onChange, onChangeEnd }: LevelSliderProps) {
  return (
    <Slider.Root
      size="sm"
      aria-label={[label]}
      getAriaValueText={({ value: db }) => inWords?.(db) ?? `${db}${unit}`}
      value={[value]}
      min={min}
      max={max}
      step={step}
      disabled={disabled}
      onValueChange={({ value: [db] }) => onChange(db)}
      onValueChangeEnd={() => onChangeEnd?.()}
    >
      <Slider.Control>
        <Slider.Track bg="raised" h="6px" borderRadius="full">
          <Slider.Range bg="lamp" />
        </Slider.Track>
        <Slider.Thumb index={0} boxSize="16px" bg="lampCore" borderColor="lamp" borderWidth="2px">
          <Slider.HiddenInput />
        </Slider.Thumb>
      </Slider.Control>
    </Slider.Root>
  );
}
