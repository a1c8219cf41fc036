import { createContext, useContext } from 'react';
import type { ShowRole } from '@/core/access/rights';
import type { DeskAction, DeskKeys } from '@/core/session/desk-actions';
import type { DeskHabits } from '@/core/session/habits';
import type { SoundSettings } from '@/core/sounds/sound-settings';
import type { RecordingSettings } from '@/core/takes/recording-settings';

/** What is set once for a show, as its panels see it: from one of its episodes, or by itself. */
export interface ShowSettings {
  show: { id: string; name: string };
  role: ShowRole;
  /** The account that looks. */
  me: string;
  /** What fills the example of a file's name. */
  example: { episode: number; guest: string };
  recording: RecordingSettings;
  sounds: SoundSettings;
  keys: DeskKeys;
  /** Pads whose keys are taken. */
  pads: readonly { key: string; name: string }[];
  habits: DeskHabits;
  /** The show's habits, while it is one episode whose habits are set; null while it is the show. */
  showHabits: DeskHabits | null;
  /** Each is kept at once. @throws {ServerError} */
  setRecording(next: RecordingSettings): Promise<void>;
  setSounds(next: SoundSettings): Promise<void>;
  setKey(action: DeskAction, key: string): Promise<void>;
  setHabits(change: Partial<DeskHabits>): Promise<void>;
  /** Makes an episode's habits the show's. */
  makeTheShows(): Promise<void>;
  /** Does one of these and says on the page what went wrong. */
  run(work: Promise<void>): void;
}

const Settings = createContext<ShowSettings | null>(null);
export const SettingsProvider = Settings.Provider;

export function useShowSettings(): ShowSettings {
  const settings = useContext(Settings);
  if (!settings) throw new Error('Settings are shown only where a page provides them.');
  return settings;
}
