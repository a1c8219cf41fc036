import type { Broadcast } from '@/core/air/broadcast';
import { isOn } from '@/live/air/air-state';
import type { Notice } from '../live/notice';

/** Streams whose server is lost, as long as that is so. */
export const airNotices = (broadcasts: Record<string, Broadcast>): Notice[] =>
  Object.values(broadcasts)
    .filter((one) => isOn(one) && one.state === 'away')
    .map(({ id, name, reason }) => ({
      key: `air-${id}`,
      urgent: true,
      words: `“${name}” is not on the air. ${reason} It is tried again by itself; the call and the recording are not touched.`,
    }));
