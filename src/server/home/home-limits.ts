import { SAMPLE_RATE } from '@/core/takes/chunks';

/** A positive number from the operator's settings, or what is sensible without. */
const setting = (name: string, otherwise: number): number => {
  const value = Number(process.env[name]);
  return Number.isFinite(value) && value > 0 ? value : otherwise;
};

const GIB = 2 ** 30;

/** What recordings made at home may take up, bytes: operators set it for their disks. */
export const homeQuotas = () => ({
  /** One guest in one take: some eight hours. */
  seat: setting('HOME_GIB_PER_SEAT', 4) * GIB,
  take: setting('HOME_GIB_PER_TAKE', 24) * GIB,
  show: setting('HOME_GIB_PER_SHOW', 200) * GIB,
  /** So long after a take was sealed the rest of a recording may still come, hours: a guest's computer may be shut for a night. */
  deadlineHours: setting('HOME_DEADLINE_HOURS', 168),
});

/** Recordings of one guest in one take: one for each time the take was paused or the page was opened anew. */
export const MOST_HOMES_OF_SEAT = 200;

/** A clock may run fast, and the page begins to count a moment before the server does. */
const FASTEST_CLOCK = 1.01;
const GRACE_SECONDS = 30;

/** How many samples a recording can hold that was captured for so long, seconds. */
export const mostSamples = (seconds: number): number => Math.round(SAMPLE_RATE * (Math.max(0, seconds) * FASTEST_CLOCK + GRACE_SECONDS));
