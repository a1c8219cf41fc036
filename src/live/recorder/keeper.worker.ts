import { keepRing, type FromKeeper, type RingKeeper } from './keep-ring';
import type { ToKeeper } from './keeper';

let keeper: RingKeeper | null = null;

const tell = (message: FromKeeper): void => self.postMessage(message, { transfer: message.type === 'kept' ? [message.records] : [] });

self.onmessage = ({ data }: MessageEvent<ToKeeper>) => {
  if (data.type === 'keep') keeper = keepRing(data.ring, tell);
  else keeper?.release(data.below);
};
