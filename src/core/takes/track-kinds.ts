/** What a desk records: sources at the engine's input, a voice as it goes into the mixes, and listeners' finished mixes. */
export const RECORDED_KINDS = ['voice', 'sounds', 'share', 'input', 'talkback', 'processed', 'feed', 'return', 'program', 'phones'] as const;
export type RecordedKind = (typeof RECORDED_KINDS)[number];

/** What is made from a voice track afterwards. */
export const DERIVED_KINDS = ['repaired', 'quietened', 'home', 'best'] as const;
export type DerivedKind = (typeof DERIVED_KINDS)[number];

export const TRACK_KINDS = [...RECORDED_KINDS, ...DERIVED_KINDS] as const;
export type TrackKind = (typeof TRACK_KINDS)[number];
