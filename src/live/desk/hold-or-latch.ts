/** What a key does when it goes down, and when it comes up again. */
export interface KeyAction {
  press(): void;
  release?(): void;
}

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
