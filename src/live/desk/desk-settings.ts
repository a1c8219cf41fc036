import type { DeskAction } from '@/core/session/desk-actions';
import { ownHabits, type DeskHabits } from '@/core/session/habits';
import type { SoundSettings } from '@/core/sounds/sound-settings';
import type { RecordingSettings } from '@/core/takes/recording-settings';
import { sendJson } from '../api';
import type { DeskState, Own, SettingsSlice } from './desk-state';
import type { Conditions } from './conditions';

interface DeskSettingsOptions {
  show: string;
  episode: string;
  store: Own<SettingsSlice>;
  conditions: Conditions;
  /** Habits that the hands have at once. */
  applied(habits: DeskHabits): void;
}

/** What the host chose for the show and for their own hands, kept on the server; and what the next take holds. */
export class DeskSettings {
  readonly #options: DeskSettingsOptions;

  constructor(options: DeskSettingsOptions) {
    this.#options = options;
  }

  /** Gives an action another key. */
  async setKey(action: DeskAction, key: string): Promise<void> {
    const { store, conditions } = this.#options;
    const before = store.getState().keys;
    const keys = { ...before, [action]: key };
    store.setState({ keys });
    // Whoever sets a key may leave the page at once.
    await sendJson('PUT', '/api/keys', keys, { keepalive: true }).then(
      () => conditions.end('keys'),
      (error: Error) => {
        store.setState({ keys: before });
        conditions.begin('keys', `The key was not kept. ${error.message}`);
      },
    );
  }

  /** How the show records; from the next take on. @throws {ServerError} */
  async setRecording(recordingSettings: RecordingSettings): Promise<void> {
    await sendJson('PUT', `/api/shows/${this.#options.show}/recording-settings`, recordingSettings, { keepalive: true });
    this.#options.store.setState({ recordingSettings });
  }

  /** How the show deals with its sounds. @throws {ServerError} */
  async setSounds(soundSettings: SoundSettings): Promise<void> {
    await sendJson('PUT', `/api/shows/${this.#options.show}/sound-settings`, soundSettings, { keepalive: true });
    this.#options.store.setState({ soundSettings });
  }

  /** Which tracks the next take leaves out, with the reason. */
  leaveOut(leftOut: DeskState['leftOut']): void {
    this.#options.store.setState({ leftOut });
  }

  /** How this desk behaves, in this episode; what is as in the show goes on following it. @throws {ServerError} */
  async setHabits(change: Partial<DeskHabits>): Promise<void> {
    const { store, episode, applied } = this.#options;
    const { habits, showHabits } = store.getState();
    const next = { ...habits, ...change };
    store.setState({ habits: next });
    applied(next);
    await sendJson('PUT', `/api/episodes/${episode}/habits`, ownHabits(showHabits, next), { keepalive: true });
  }

  /** Makes how this desk behaves the habit of the whole show. @throws {ServerError} */
  async makeHabitsTheShows(): Promise<void> {
    const { store, show, episode } = this.#options;
    const { habits } = store.getState();
    await sendJson('PUT', `/api/shows/${show}/habits`, habits, { keepalive: true });
    store.setState({ showHabits: habits });
    await sendJson('PUT', `/api/episodes/${episode}/habits`, {}, { keepalive: true });
  }
}
