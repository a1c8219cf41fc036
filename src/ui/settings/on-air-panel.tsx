'use client';

import { formatDb } from '../format';
import { Panel } from '../shell/panel';
import { Habit } from './habit';
import { SettingSelect } from './setting-select';
import { SettingSlider } from './setting-slider';
import { useShowSettings } from './show-settings';

const COUGHS = [
  { words: 'the call and the program', value: { callers: true, program: true } },
  { words: 'the call only', value: { callers: true, program: false } },
  { words: 'the program only', value: { callers: false, program: true } },
];
const LISTEN_SECONDS = [10, 30, 60, 300];

/** How the hands' moves on air behave. */
export function OnAirPanel() {
  const { habits, setHabits, run } = useShowSettings();
  const { coughKeepsOut: cough, listenSeconds, talkDimDb } = habits;
  return (
    <Panel title="On air">
      <Habit name="coughKeepsOut" words="my cough">
        <SettingSelect
          label="My cough keeps me out of"
          value={String(COUGHS.findIndex(({ value }) => value.callers === cough.callers && value.program === cough.program))}
          options={COUGHS.map(({ words }, place) => [String(place), words])}
          onChoose={(place) => run(setHabits({ coughKeepsOut: COUGHS[Number(place)].value }))}
        />
      </Habit>
      <Habit name="listenSeconds" words="how long listening lasts">
        <SettingSelect
          label="Listening ends after"
          value={String(listenSeconds)}
          options={[...new Set([...LISTEN_SECONDS, listenSeconds])].map((seconds) => [String(seconds), seconds < 60 ? `${seconds} s` : `${seconds / 60} min`])}
          onChoose={(seconds) => run(setHabits({ listenSeconds: Number(seconds) }))}
        />
      </Habit>
      <Habit name="talkDimDb" words="how far the rest goes down while I talk">
        <SettingSlider label="While I talk, the rest goes down by" value={talkDimDb} min={0} max={40} step={1} unit=" dB" show={(db) => formatDb(-db)} onSet={(db) => run(setHabits({ talkDimDb: db }))} />
      </Habit>
    </Panel>
  );
}
