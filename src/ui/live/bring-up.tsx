'use client';

import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';

/** Opens a waiting caller into all the right places at once, or takes one down again. */
export function BringUp({ seat, name }: { seat: string; name: string }) {
  const desk = useDesk();
  const waits = useDeskState(({ plan }) => plan.waiting.includes(seat));
  // Whoever is not here cannot be brought up: they would be on air the moment they came.
  const absent = useDeskState(({ lines }) => lines[seat] !== undefined && !lines[seat].here);
  if (waits && absent) return null;
  return (
    <ControlButton
      h="24px"
      px="9px"
      mt="3px"
      fontSize="12.5px"
      tone={waits ? 'lamp' : 'plain'}
      aria-label={waits ? `Bring ${name} up` : `Send ${name} back to waiting`}
      onClick={() => desk.plan.setWaiting(seat, !waits)}
    >
      {waits ? 'Bring up' : 'Send back'}
    </ControlButton>
  );
}
