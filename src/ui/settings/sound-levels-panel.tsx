'use client';

import { Text } from '@chakra-ui/react';
import { KIND_WORDS, SOUND_KINDS } from '@/core/sounds/sound-kind';
import type { SoundSettings } from '@/core/sounds/sound-settings';
import { formatDb } from '../format';
import { Panel } from '../shell/panel';
import { SettingSlider } from './setting-slider';
import { useShowSettings } from './show-settings';

const signed = (value: number): string => String(value).replace('-', '−');

/** The levels that a show's sounds are brought to, and how long its fades take. */
export function SoundLevelsPanel() {
  const { sounds, setSounds, run } = useShowSettings();
  const set = (change: Partial<SoundSettings>): void => run(setSounds({ ...sounds, ...change }));
  const talk = sounds.underTalk;
  return (
    <>
      <Panel title="Levels of sounds" aside="LUFS">
        {SOUND_KINDS.map((kind) => (
          <SettingSlider key={kind} label={`Level of each ${kind}`} words={KIND_WORDS[kind]} value={sounds.levels[kind]} min={-40} max={-12} unit=" LUFS" show={signed} onSet={(level) => set({ levels: { ...sounds.levels, [kind]: level } })} />
        ))}
        <SettingSlider label="Ceiling of all sounds" words="never above" value={sounds.ceilingDbtp} min={-9} max={0} unit=" dBTP" show={(db) => `${signed(db)} dBTP`} onSet={(ceilingDbtp) => set({ ceilingDbtp })} />
        <Text fontSize="13px" color="soft" mt="4px">
          Sounds that are there keep their level until they are brought to it again in Sounds.
        </Text>
      </Panel>
      <Panel title="Fades" aside="seconds">
        <Seconds label="A fade takes" value={sounds.fadeSeconds} onSet={(fadeSeconds) => set({ fadeSeconds })} />
        <Seconds label="One of a group gives way in" value={sounds.crossfadeSeconds} onSet={(crossfadeSeconds) => set({ crossfadeSeconds })} />
        <Text fontSize="13px" color="soft" mt="8px">
          From theme to talk
        </Text>
        <SettingSlider label="Under the talk by" words="goes under by" value={talk.underDb} min={-30} max={-3} unit=" dB" show={formatDb} onSet={(underDb) => set({ underTalk: { ...talk, underDb } })} />
        <Seconds label="goes there in" value={talk.underSeconds} onSet={(underSeconds) => set({ underTalk: { ...talk, underSeconds } })} />
        <Seconds label="stays for" value={talk.holdSeconds} max={40} onSet={(holdSeconds) => set({ underTalk: { ...talk, holdSeconds } })} />
        <Seconds label="goes out in" value={talk.outSeconds} onSet={(outSeconds) => set({ underTalk: { ...talk, outSeconds } })} />
      </Panel>
    </>
  );
}

function Seconds({ label, value, max = 15, onSet }: { label: string; value: number; max?: number; onSet(seconds: number): void }) {
  return <SettingSlider label={label} value={value} min={0.5} max={max} unit=" s" show={(seconds) => `${seconds} s`} onSet={onSet} />;
}
