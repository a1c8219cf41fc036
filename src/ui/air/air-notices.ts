import type { Broadcast } from '@/core/air/broadcast';
import { isOn } from '@/live/air/air-state';
import type { Notice } from '../live/notice';

/** What is shown of streams: the same text as long as nothing of it has changed. */
export const lostStreams = (broadcasts: Record<string, Broadcast>): string =>
  JSON.stringify(Object.values(broadcasts).flatMap((one) => (isOn(one) && one.state === 'away' ? [{ id: one.id, name: one.name, reason: one.reason }] : [])));

/** Streams whose server is lost, as long as that is so. */
export const airNotices = (lost: string): Notice[] =>
  (JSON.parse(lost) as { id: string; name: string; reason: string }[]).map(({ id, name, reason }) => ({
    key: `air-${id}`,
    urgent: true,
    words: `“${name}” is not on the air. ${reason} It is tried again by itself; the call and the recording are not touched.`,
  }));
