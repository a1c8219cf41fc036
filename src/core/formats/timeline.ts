/** A file of one track, in its place. */
export interface TimelineTrack {
  name: string;
  /** Name of the sound file beside the timeline. */
  file: string;
  lengthSamples: number;
}

export interface TimelineMarker {
  name: string;
  atSample: number;
  lengthSamples: number;
}

/**
 * Tracks and markers as OpenTimelineIO (ASWF, `.otio`): an open description of an editing session, every
 * track with its one file from sample 0 on.
 */
export function asOpenTimeline(name: string, rate: number, tracks: readonly TimelineTrack[], markers: readonly TimelineMarker[]): object {
  const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', rate, value });
  const range = (start: number, length: number) => ({ OTIO_SCHEMA: 'TimeRange.1', start_time: time(start), duration: time(length) });
  return {
    OTIO_SCHEMA: 'Timeline.1',
    name,
    global_start_time: null,
    metadata: {},
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      name: 'tracks',
      metadata: {},
      effects: [],
      markers: markers.map((marker) => ({ OTIO_SCHEMA: 'Marker.2', name: marker.name, color: 'GREEN', marked_range: range(marker.atSample, marker.lengthSamples), metadata: {} })),
      source_range: null,
      children: tracks.map((track) => ({
        OTIO_SCHEMA: 'Track.1',
        name: track.name,
        kind: 'Audio',
        metadata: {},
        effects: [],
        markers: [],
        source_range: null,
        children: [
          {
            OTIO_SCHEMA: 'Clip.2',
            name: track.name,
            metadata: {},
            effects: [],
            markers: [],
            source_range: range(0, track.lengthSamples),
            active_media_reference_key: 'DEFAULT_MEDIA',
            media_references: { DEFAULT_MEDIA: { OTIO_SCHEMA: 'ExternalReference.1', name: track.file, metadata: {}, available_image_bounds: null, available_range: range(0, track.lengthSamples), target_url: encodeURI(track.file) } },
          },
        ],
      })),
    },
  };
}
