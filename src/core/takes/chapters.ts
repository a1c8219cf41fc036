import { SAMPLE_RATE } from './chunks';
import type { TakeMarker } from './markers';

/** Markers as podcast chapters (JSON Chapters 1.2 of the open podcast namespace). */
export function markersAsChapters(markers: readonly TakeMarker[], title: string): object {
  return {
    version: '1.2.0',
    title,
    chapters: markers.map(({ atSample, lengthSamples, name }) => ({
      startTime: Number((atSample / SAMPLE_RATE).toFixed(3)),
      ...(lengthSamples > 0 ? { endTime: Number(((atSample + lengthSamples) / SAMPLE_RATE).toFixed(3)) } : {}),
      title: name,
    })),
  };
}
