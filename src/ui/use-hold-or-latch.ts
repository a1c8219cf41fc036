import { useRef } from 'react';
import { holdOrLatch, type KeyAction } from '@/live/desk/hold-or-latch';

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
    onPointerDown: ({ timeStamp }: React.PointerEvent) => act().press(timeStamp),
    onPointerUp: ({ timeStamp }: React.PointerEvent) => act().release?.(timeStamp),
    onPointerLeave: ({ timeStamp }: React.PointerEvent) => act().release?.(timeStamp),
    onKeyDown: (event: React.KeyboardEvent) => {
      if (isPress(event.key) && !event.repeat) act().press(event.timeStamp);
    },
    onKeyUp: (event: React.KeyboardEvent) => {
      if (isPress(event.key)) act().release?.(event.timeStamp);
    },
  };
}
