/** How the jitter buffer's target moves. */
const STEP_UP_MS = 20;
const STEP_DOWN_MS = 10;
const HIGHEST_MS = 240;
/** More made-up sound than this in one second is heard. */
const HEARD_MS = 10;
/** The buffer is lowered after so long without any. */
const QUIET_SECONDS = 20;

/**
 * Finds the lowest jitter-buffer target that holds: up as soon as made-up sound is heard, down
 * slowly while there is none. A target that did not hold is not tried again for longer each time.
 */
export interface JitterTarget {
  /** Takes one second's concealment, ms; returns the target from now on, ms. */
  second(concealedMs: number): number;
}

export function createJitterTarget(): JitterTarget {
  let target = 0;
  let quiet = 0;
  let patience = QUIET_SECONDS;
  return {
    second(concealedMs) {
      if (concealedMs > HEARD_MS) {
        if (quiet >= QUIET_SECONDS) patience = Math.min(600, patience * 2);
        target = Math.min(HIGHEST_MS, target + STEP_UP_MS);
        quiet = 0;
      } else {
        quiet++;
        if (quiet % patience === 0) target = Math.max(0, target - STEP_DOWN_MS);
      }
      return target;
    },
  };
}
