/** What a key does when it goes down, and when it comes up again: `at` is when the finger did, `performance.now()`, however late a busy page hears of it. */
export interface KeyAction {
  press(at?: number): void;
  release?(at?: number): void;
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
    press(at = performance.now()) {
      pressedAt = at;
      endsOnRelease = !isOn();
      turn(endsOnRelease);
    },
    release(at = performance.now()) {
      if (endsOnRelease && at - pressedAt >= LATCH_MS) turn(false);
      endsOnRelease = false;
    },
  };
}
