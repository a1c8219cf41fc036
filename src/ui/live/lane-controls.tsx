'use client';

import { Grid, type ButtonProps } from '@chakra-ui/react';
import { setSource } from '@/core/hearing/edit';
import { returnOf, type ListenerId } from '@/core/hearing/ids';
import { sourceSettings, type Source } from '@/core/hearing/plan';
import { DESK_ACTION_NAMES, type DeskAction } from '@/core/session/desk-actions';
import { useHoldOrLatch } from '../use-hold-or-latch';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { KeyCap } from '../shell/key-cap';
import { SoundLevels } from './sound-levels';

const small = { px: '0', h: '32px', fontSize: '13px', gap: '5px' } as const;

type LaneButton = { source: Source } & Pick<ButtonProps, 'h' | 'w'>;

/** What the hands do with one source: cough or talk, on or off, listen, out of my phones. */
export function LaneControls({ source }: { source: Source }) {
  return (
    <Grid templateColumns="68px 62px" gap="6px">
      {source.kind === 'voice' && source.seat.role === 'host' ? <Cough source={source} /> : source.kind === 'voice' ? <Talk source={source} /> : <SoundLevels source={source} />}
      <OnOff source={source} />
      <Listen source={source} />
      <OutOfPhones source={source} />
    </Grid>
  );
}

export function Cough({ source, ...more }: LaneButton) {
  const desk = useDesk();
  const on = useDeskState(({ onAir }) => onAir.cough[source.id] !== undefined);
  const keepsOut = useDeskState((state) => state.habits.coughKeepsOut);
  const key = useDeskState(({ keys }) => keys.cough);
  const hold = useHoldOrLatch(
    () => on,
    (next) => desk.hands.cough(source.id, next ? keepsOut : null),
  );
  return (
    <ControlButton {...small} {...more} {...hold} tone={on ? 'ember' : 'plain'} aria-pressed={on} aria-label={`Cough: keep ${source.name} out`} title="Hold, or tap to latch. The track goes on recording.">
      Cough <KeyCap>{key.toUpperCase()}</KeyCap>
    </ControlButton>
  );
}

export function Talk({ source, ...more }: LaneButton & { source: Source & { kind: 'voice' } }) {
  const desk = useDesk();
  const target: ListenerId = returnOf(source.seat.id);
  const on = useDeskState(({ onAir }) => onAir.talk?.to.includes(target) ?? false);
  const running = useDeskState(({ call }) => call === 'running');
  const place = useDeskState(({ plan }) => plan.seats.filter(({ role }) => role === 'caller').findIndex(({ id }) => id === source.seat.id));
  const action = `talk-${place + 1}` as DeskAction;
  const key = useDeskState(({ keys }) => (DESK_ACTION_NAMES.includes(action) ? keys[action] : ''));
  const hold = useHoldOrLatch(
    () => on,
    (next) => desk.hands.talkWith(target, next),
  );
  return (
    <ControlButton {...small} {...more} {...hold} disabled={!running} tone={on ? 'tide' : 'plain'} aria-pressed={on} aria-label={`Talk to ${source.name}`} title={`Only ${source.name} hears you. Hold, or tap to latch.`}>
      Talk {key && <KeyCap>{key.toUpperCase()}</KeyCap>}
    </ControlButton>
  );
}

export function OnOff({ source, ...more }: LaneButton) {
  const desk = useDesk();
  const on = useDeskState(({ plan }) => sourceSettings(plan, source.id).on);
  return (
    <ControlButton
      {...small}
      {...more}
      tone={on ? 'lit' : 'plain'}
      aria-pressed={on}
      aria-label={`${source.name} in the mixes`}
      onClick={() => desk.plan.change((plan) => setSource(plan, source.id, { on: !on }))}
    >
      {on ? 'On' : 'Off'}
    </ControlButton>
  );
}

export function Listen({ source, ...more }: LaneButton) {
  const desk = useDesk();
  const on = useDeskState(({ onAir }) => onAir.listenTo !== null && 'source' in onAir.listenTo && onAir.listenTo.source === source.id);
  const running = useDeskState(({ call }) => call === 'running');
  return (
    <ControlButton
      {...small}
      {...more}
      disabled={!running}
      tone={on ? 'tide' : 'plain'}
      aria-pressed={on}
      aria-label={`Listen to ${source.name} alone`}
      title="In your phones only, before the fader. Nobody else hears a difference."
      onClick={() => desk.hands.listenTo(on ? null : { source: source.id })}
    >
      Listen
    </ControlButton>
  );
}

export function OutOfPhones({ source, ...more }: LaneButton) {
  const desk = useDesk();
  const offIn = useDeskState(({ plan }) => sourceSettings(plan, source.id).offIn);
  const out = offIn.includes('phones');
  return (
    <ControlButton
      {...small}
      {...more}
      tone={out ? 'plain' : 'lit'}
      aria-pressed={!out}
      aria-label={`${source.name} in my phones`}
      title="Silences this source for you alone."
      onClick={() =>
        desk.plan.change((plan) => setSource(plan, source.id, { offIn: out ? offIn.filter((kind) => kind !== 'phones') : [...offIn, 'phones'] }))
      }
    >
      {out ? 'Muted' : 'Phones'}
    </ControlButton>
  );
}
