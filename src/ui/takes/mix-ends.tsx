import { Flex } from '@chakra-ui/react';
import type { MixSettings } from '@/core/tasks/task';
import type { FrameWay } from '@/core/takes/framing';
import { Pick } from './pick';

interface MixEndsProps {
  settings: MixSettings;
  sounds: { id: string; name: string }[];
  onChange(change: Partial<MixSettings>): void;
}

/** What stands at both ends of a finished mix, and which chapters it has. */
export function MixEnds({ settings, sounds, onChange }: MixEndsProps) {
  const { cutEnds, opening, closing, soundChapters } = settings;
  const choices = (none: string, way: (name: string, way: FrameWay) => string): [string, string][] => [
    ['', none],
    ...sounds.flatMap(({ id, name }): [string, string][] => [[`alone ${id}`, way(name, 'alone')], [`under ${id}`, way(name, 'under')]]),
  ];
  const picked = (value: string): MixSettings['opening'] => {
    const [way, sound] = value.split(' ');
    return sound === undefined ? null : { sound, way: way as FrameWay };
  };
  const valueOf = (one: MixSettings['opening']) => (one ? `${one.way} ${one.sound}` : '');
  return (
    <>
      <Pick label="Beginning and end" value={cutEnds ? 'cut' : 'whole'} options={[['whole', 'from the first sample to the last'], ['cut', 'without the silence at both ends']]} onPick={(ends) => onChange({ cutEnds: ends === 'cut' })} />
      <Flex gap="7px">
        <Pick label="Opening" value={valueOf(opening)} options={choices('no opening', (name, way) => (way === 'alone' ? `${name}, then the talk` : `${name}, and on under the talk`))} onPick={(value) => onChange({ opening: picked(value) })} />
        <Pick label="Closing" value={valueOf(closing)} options={choices('no closing', (name, way) => (way === 'alone' ? `${name} after the talk` : `${name}, from under its end`))} onPick={(value) => onChange({ closing: picked(value) })} />
      </Flex>
      <Pick label="Chapters" value={soundChapters ? 'sounds' : 'marks'} options={[['marks', 'chapters: the marks'], ['sounds', 'chapters: the marks, and longer sounds']]} onPick={(value) => onChange({ soundChapters: value === 'sounds' })} />
    </>
  );
}
