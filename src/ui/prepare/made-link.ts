import { sendJson } from '@/live/api';

/** A link that was just made; it is told only once. */
export interface Made {
  link: string;
  expiresAt: string;
  /** SVG */
  qr: string;
  /** iCalendar; null while the episode has no date. */
  calendar: string | null;
}

export const invitationAddress = (episode: string, seat: string): string => `/api/episodes/${episode}/seats/${seat}/invitation`;

/** Makes a link for a seat; an earlier one stops working. @throws {Error} with what to do */
export const makeLink = (episode: string, seat: string): Promise<Made> => sendJson<Made>('POST', invitationAddress(episode, seat), {});

/** One text a person, to be pasted into as many messages. */
export function invitationsInWords(show: string, title: string, invited: readonly { name: string; link: string }[]): string {
  return invited.map(({ name, link }) => `${name}, this is your link to “${title}” (${show}). It is for you alone:\n${link}\n`).join('\n');
}
