/**
 * How much of everything there can be, in one place, so that no part of the desk has room for what another has not.
 * Whoever would exceed one is told in words, and nothing is changed.
 */

/** People of an episode, the host among them: sixteen guests, and a few on the host's side. */
export const MOST_SEATS = 20;
/** Everybody but the host can come by a line. */
export const MOST_LINES = MOST_SEATS - 1;
/** People who speak on one line together: a conference in another program. */
export const MOST_PEOPLE_BEHIND_A_LINE = 8;
export const MOST_PLAYERS = 8;
export const MOST_SHARES = 4;
/** Instruments, players and programs that come in through a device. */
export const MOST_INPUTS = 6;
export const MOST_FEEDS = 8;
export const MOST_GROUPS = 6;
/** A host has a voice and a talkback, everybody else one of them; and there is what is listened to first. */
const SOURCES_OF_A_PLAN = MOST_SEATS + 1 + MOST_PLAYERS + MOST_SHARES + MOST_INPUTS + 1;
/** Phones, a return each, the program, and the feeds. */
const LISTENERS_OF_A_PLAN = MOST_SEATS + 1 + MOST_FEEDS;
/** Those who left keep their place while a take records it, so that the engine has more than a plan can need. */
const LEAVERS = 14;
/** Places of the engine. */
export const MOST_SOURCES = SOURCES_OF_A_PLAN + LEAVERS;
export const MOST_LISTENERS = LISTENERS_OF_A_PLAN + LEAVERS;
/** Tracks of one take: every source, every voice once more as it goes into the mixes, and every mix. */
export const MOST_TRACKS = MOST_SOURCES + MOST_SEATS + MOST_LISTENERS;
/** Letters of a person's name. */
export const MOST_NAME_LETTERS = 60;
