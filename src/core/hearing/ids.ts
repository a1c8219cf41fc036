/** A person's place in one episode. */
export type SeatId = string;

/** Anything that can be heard. The text says what it is, so that plans can be read by people. */
export type VoiceId = `voice:${SeatId}`;
export type SoundsId = `sounds:${string}`;
export type ShareId = `share:${string}`;
export type InputId = `input:${string}`;
export type TalkbackId = `talkback:${SeatId}`;
export type SourceId = VoiceId | SoundsId | ShareId | InputId | TalkbackId | typeof CUE;

/**
 * What the host listens to first, before anybody else does. It is no source of a plan: it reaches
 * the phones and nothing else, whatever the plan says.
 */
export const CUE = 'cue';

/** Anything that hears. */
export type PhonesId = `phones:${SeatId}`;
export type ReturnId = `return:${SeatId}`;
export type FeedId = `feed:${string}`;
export type ListenerId = PhonesId | ReturnId | FeedId | 'program';

/** What reaches a person's ears: their own listener, and whatever else plays where they sit. */
export type EarsId = `ears:${SeatId}`;

export const voiceOf = (seat: SeatId): VoiceId => `voice:${seat}`;
export const soundsOf = (player: string): SoundsId => `sounds:${player}`;
export const shareOf = (share: string): ShareId => `share:${share}`;
export const inputOf = (input: string): InputId => `input:${input}`;
export const talkbackOf = (seat: SeatId): TalkbackId => `talkback:${seat}`;
export const earsOf = (seat: SeatId): EarsId => `ears:${seat}`;
export const phonesOf = (seat: SeatId): PhonesId => `phones:${seat}`;
export const returnOf = (seat: SeatId): ReturnId => `return:${seat}`;
/** What one person hears, and no mix that goes out. */
export const isPersonal = (id: ListenerId): id is PhonesId | ReturnId => id.startsWith('phones:') || id.startsWith('return:');
export const feedOf = (feed: string): FeedId => `feed:${feed}`;
export const PROGRAM = 'program' satisfies ListenerId;

/** What follows the first colon of an id; the whole id where it has none. */
export function nameInId(id: SourceId | ListenerId | EarsId): string {
  return id.slice(id.indexOf(':') + 1);
}
