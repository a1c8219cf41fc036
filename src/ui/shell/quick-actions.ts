import { returnOf, voiceOf } from '@/core/hearing/ids';
import { setSource } from '@/core/hearing/edit';
import { sourceSettings } from '@/core/hearing/plan';
import { DESK_ACTION_NAMES, DESK_ACTIONS } from '@/core/session/desk-actions';
import { ROOMS, type Room } from '@/core/session/readiness';
import type { DeskSession } from '@/live/desk/desk-session';
import type { DeskState } from '@/live/desk/desk-state';

/** Something that can be done by its name. */
export interface QuickAction {
  name: string;
  /** The key that does it too; empty for none. */
  key: string;
  run(): void;
}

const ROOM_NAMES: Record<Room, string> = { prepare: 'Prepare', sounds: 'Sounds', hearing: 'Hearing', check: 'Check', live: 'Live', takes: 'Takes' };

/** Everything that can be done at the desk now, the call and the recording first. */
export function quickActions(desk: DeskSession, state: DeskState, go: (address: string) => void): QuickAction[] {
  const base = `/episodes/${desk.data.episode.id}`;
  return [
    ...callActions(desk, state),
    ...DESK_ACTION_NAMES.filter((action) => action !== 'listen-first').map((action) => ({
      name: DESK_ACTIONS[action].words,
      key: state.keys[action],
      // Tapped: what can be held stays until it is done again.
      run: () => {
        const now = performance.now();
        desk.actions[action].press(now);
        desk.actions[action].release?.(now);
      },
    })),
    ...state.pads.map(({ name, key, sound }) => ({ name: `Play ${name}`, key, run: () => desk.pads.press(sound) })),
    ...personActions(desk, state),
    ...ROOMS.map((room) => ({ name: `Go to ${ROOM_NAMES[room]}`, key: '', run: () => go(`${base}/${room}`) })),
    { name: 'Go to Show settings', key: '', run: () => go(`${base}/settings`) },
    { name: 'Go to all episodes', key: '', run: () => go('/') },
  ];
}

function callActions(desk: DeskSession, { call, recording }: DeskState): QuickAction[] {
  const action = (name: string, run: () => void): QuickAction => ({ name, key: '', run });
  if (call === 'off' || call === 'blocked') return [action('Start call', () => void desk.startCall())];
  if (call !== 'running') return [];
  if (!recording) return [action('Record', () => void desk.startRecording()), action('End call', () => void desk.endCall())];
  const paused = recording.phase === 'paused';
  return [action('Stop recording', () => void desk.recording.stop()), action(paused ? 'Go on recording' : 'Pause recording', () => desk.recording.pause(!paused))];
}

/** What the lane of a person does. */
function personActions(desk: DeskSession, { plan, call, onAir, lines }: DeskState): QuickAction[] {
  return plan.seats
    .filter(({ role }) => role === 'caller')
    .flatMap(({ id, name }): QuickAction[] => {
      const voice = voiceOf(id);
      const { on } = sourceSettings(plan, voice);
      const waits = plan.waiting.includes(id);
      const talking = onAir.talk?.to.includes(returnOf(id)) ?? false;
      const running: QuickAction[] = [
        { name: talking ? `Stop talking to ${name}` : `Talk to ${name}`, key: '', run: () => desk.hands.talkWith(returnOf(id), !talking) },
        { name: `Listen to ${name} alone`, key: '', run: () => desk.hands.listenTo({ source: voice }) },
        { name: `Hear what ${name} hears`, key: '', run: () => desk.hands.hearAs(returnOf(id)) },
      ];
      return [
        ...(waits && lines[id]?.state === 'waiting' ? [{ name: `Bring ${name} into the call`, key: '', run: () => desk.plan.setWaiting(id, false) }] : []),
        { name: on ? `Take ${name} out of the mixes` : `Let ${name} into the mixes`, key: '', run: () => desk.plan.change((now) => setSource(now, voice, { on: !on })) },
        ...(call === 'running' ? running : []),
      ];
    });
}
