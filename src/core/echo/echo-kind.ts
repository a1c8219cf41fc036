/** From this level on it is no headphone that leaks, but a loudspeaker, dB. */
export const LOUDSPEAKER_DB = -38;
/** What comes back as loud as it was sent is a program that sends it, and no loudspeaker, dB. */
export const SENT_BACK_DB = -7;
