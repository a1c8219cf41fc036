import type { TrackRow } from './queries';

/** What carries a source of its own, as it came in: these are measured, compared with each other, and mixed anew. */
const SOURCE_KINDS: readonly TrackRow['kind'][] = ['voice', 'sounds', 'share', 'input'];

export const isSource = (track: TrackRow): boolean => SOURCE_KINDS.includes(track.kind) && track.derived_from === null;
