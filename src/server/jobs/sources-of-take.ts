import type { TrackRow } from '../takes/queries';

/** What carries a source of its own: these are measured, and compared with each other. */
const SOURCE_KINDS: readonly TrackRow['kind'][] = ['voice', 'sounds', 'share', 'input'];

export const isCompared = (track: TrackRow): boolean => SOURCE_KINDS.includes(track.kind) && track.derived_from === null;
