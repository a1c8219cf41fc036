import fc from 'fast-check';

/**
 * Every run tries the same cases: what fails then fails because of a change, and fails again when it is looked at.
 * `SEED=7 npm test -- unit` tries others.
 */
fc.configureGlobal({ seed: Number(process.env.SEED ?? 20_270_304) });
