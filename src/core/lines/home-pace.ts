/** What a page's line to the desk was like over the last second or so. */
export interface UplinkReport {
  /** Share of the voice's packets that were lost on the way to the desk, 0 to 1; null while not told. */
  lossShare: number | null;
  roundTripMs: number | null;
}

/**
 * How fast a recording may be sent beside a conversation: more while the line does not mind, half as much as soon as it
 * does (slow growth, fast retreat, as TCP does; Chiu and Jain, 1989).
 */
export interface HomePace {
  /** Bytes a second now; Infinity while no call is on. */
  rate(): number;
  /** About once a second while a call is on. */
  report(report: UplinkReport): void;
  /** Whether a conversation shares the line. */
  inCall(inCall: boolean): void;
}

const FIRST_RATE = 60_000;
/** A voice at 24 bits needs 144 000 bytes a second; beyond some more nothing is gained. */
const HIGHEST_RATE = 400_000;
/** One chunk in eighteen seconds. */
const LOWEST_RATE = 2_000;
/** By how much it grows with every report that has nothing against it. */
const GROWTH = 1.05;
/** After it was halved the line gets this many reports of rest. */
const REST_REPORTS = 15;
const MORE_LOSS = 0.01;
/** A round trip this much longer than the shortest means that something waits in a queue, ms. */
const WAITING_MS = 40;
/** The shortest round trip and the usual loss are those of the last so many reports. */
const REMEMBERED = 120;
/** Loss is judged over this many reports: one packet in a second of fifty says little. */
const LOSS_REPORTS = 5;

export function createHomePace(): HomePace {
  let rate = FIRST_RATE;
  let calling = true;
  let rest = 0;
  const trips: number[] = [];
  const losses: number[] = [];
  const means: number[] = [];
  const remember = (values: number[], value: number): void => {
    values.push(value);
    if (values.length > REMEMBERED) values.shift();
  };
  return {
    rate: () => (calling ? rate : Infinity),
    inCall(inCall) {
      calling = inCall;
    },
    report({ lossShare, roundTripMs }) {
      if (roundTripMs !== null) remember(trips, roundTripMs);
      const isWaiting = roundTripMs !== null && roundTripMs > Math.min(...trips) + WAITING_MS;
      if (lossShare !== null) {
        remember(losses, lossShare);
        const recent = losses.slice(-LOSS_REPORTS);
        remember(means, recent.reduce((sum, one) => sum + one, 0) / recent.length);
      }
      const isLosing = means.length > 0 && means[means.length - 1] > Math.min(...means) + MORE_LOSS;
      if (isWaiting || isLosing) {
        rate = Math.max(LOWEST_RATE, rate / 2);
        rest = REST_REPORTS;
      } else if (rest > 0) rest--;
      else rate = Math.min(HIGHEST_RATE, rate * GROWTH);
    },
  };
}
