import { createEvent } from 'ics';
import { renderSVG } from 'uqr';
import type { EpisodeRow } from '../episodes/queries';

/** A link as a QR code, SVG. */
export const qrCode = (link: string): string => renderSVG(link, { border: 2 });

interface Entry {
  episode: Pick<EpisodeRow, 'id' | 'title' | 'number' | 'show' | 'planned_at' | 'planned_minutes'>;
  seat: string;
  link: string;
  host: string;
}

/** A calendar entry (iCalendar, RFC 5545) with date and link; null while the episode has no date. */
export function calendarEntry({ episode, seat, link, host }: Entry): string | null {
  const at = episode.planned_at;
  if (!at) return null;
  const { error, value } = createEvent({
    uid: `${episode.id}-${seat}@brisk-lantern`,
    productId: 'brisk-lantern',
    start: [at.getUTCFullYear(), at.getUTCMonth() + 1, at.getUTCDate(), at.getUTCHours(), at.getUTCMinutes()],
    startInputType: 'utc',
    duration: { minutes: episode.planned_minutes },
    title: `${episode.show} ${episode.number}: ${episode.title}`,
    description: `Your interview with ${host}. Open this link a few minutes early, with headphones on: ${link}`,
    url: link,
    location: link,
    status: 'CONFIRMED',
  });
  if (error || !value) throw new Error('The calendar entry could not be written.', { cause: error });
  return value;
}
