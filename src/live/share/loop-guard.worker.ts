import { ShareWatch } from '@/core/echo/share-watch';
import { ringReader } from '../recorder/ring';
import type { FromGuard, WatchShare } from './guard-messages';

/** Four looks a second: with two that agree, a loop is known well within two seconds. */
const LOOK_EVERY_MS = 250;
/** Both sides of the share, and the sum of everything else. */
const CHANNELS = 3;

self.onmessage = ({ data }: MessageEvent<WatchShare>) => {
  const watch = new ShareWatch();
  const reader = ringReader(data.ring, CHANNELS);
  setInterval(() => {
    reader.drain((_, channels) => watch.take(channels));
    const found = watch.look();
    if (found) self.postMessage(found satisfies FromGuard);
  }, LOOK_EVERY_MS);
};
