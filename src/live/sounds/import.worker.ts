import { toStereo } from '@/core/sounds/downmix';
import { measureSound, type SoundMeasures } from '@/core/sounds/measure-sound';
import { encodeFlac } from './flac-encoder';

export interface ImportRequest {
  channels: Float32Array[];
}

export type FromImport =
  | { type: 'progress'; share: number }
  | { type: 'done'; flac: Uint8Array<ArrayBuffer>; measures: SoundMeasures }
  | { type: 'failed'; message: string };

const say = (message: FromImport, transfer: Transferable[] = []): void => self.postMessage(message, { transfer });

/** Measuring takes about this part of the time. */
const MEASURING = 0.6;

self.onmessage = async ({ data }: MessageEvent<ImportRequest>) => {
  try {
    const channels = toStereo(data.channels);
    const measures = measureSound(channels, (share) => {
      say({ type: 'progress', share: share * MEASURING });
      return true;
    });
    const flac = await encodeFlac(channels, (share) => say({ type: 'progress', share: MEASURING + share * (1 - MEASURING) }));
    say({ type: 'done', flac, measures }, [flac.buffer]);
  } catch (error) {
    say({ type: 'failed', message: (error as Error).message });
  }
};
