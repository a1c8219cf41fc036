import { useRef } from 'react';
import type { KeyAction } from './use-keys';

/** A press shorter than this latches; a longer one holds only while it lasts. */
const LATCH_MS = 280;

/**
 * One control for two habits: hold it, and it ends when let go; tap it, and it stays until the next
 * tap. The same for pointer, for the control's own keys and for the desk's key.
 */
export function holdOrLatch(isOn: () => boolean, turn: (on: boolean) => void): KeyAction {
  let pressedAt = 0;
  let endsOnRelease = false;
  return {
    press() {
      pressedAt = performance.now();
      endsOnRelease = !isOn();
      turn(endsOnRelease);
    },
    release() {
      if (endsOnRelease && performance.now() - pressedAt >= LATCH_MS) turn(false);
      endsOnRelease = false;
    },
  };
}

/** {@link holdOrLatch} as the handlers of a button. */
export function useHoldOrLatch(isOn: () => boolean, turn: (on: boolean) => void) {
  const latest = useRef({ isOn, turn });
  const action = useRef<KeyAction | null>(null);
  const act = () => {
    latest.current = { isOn, turn };
    action.current ??= holdOrLatch(
      () => latest.current.isOn(),
      (on) => latest.current.turn(on),
    );
    return action.current;
  };
  const isPress = (key: string) => key === 'Enter' || key === ' ';
  return {
    onPointerDown: () => act().press(),
    onPointerUp: () => act().release?.(),
    onPointerLeave: () => act().release?.(),
    onKeyDown: (event: React.KeyboardEvent) => {
      if (isPress(event.key) && !event.repeat) act().press();
    },
    onKeyUp: (event: React.KeyboardEvent) => {
      if (isPress(event.key)) act().release?.();
    },
  };
}
