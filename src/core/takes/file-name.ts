export interface TrackNaming {
  show: string;
  episode: number;
  take: number;
  /** Day of the recording, ISO 8601 (2026-11-23). */
  date: string;
  /** Place of the track in its take, from 1. */
  place: number;
  /** The person's whole name, or what else was recorded. */
  name: string;
  kind: string;
}

/** Longest part of a name, so that the whole stays under 255 bytes on every file system. */
const LONGEST_PART = 40;

/** `Ferry-Weather_E14_2026-11-23_take-1_02_Odalys-Brandt_voice`, without an extension. */
export function trackFileName(naming: TrackNaming): string {
  return `${takeFileName(naming)}_${String(naming.place).padStart(2, '0')}_${part(naming.name)}_${part(naming.kind)}`;
}

/** `Ferry-Weather_E14_2026-11-23_take-1` */
export function takeFileName(naming: Pick<TrackNaming, 'show' | 'episode' | 'take' | 'date'>): string {
  return `${part(naming.show)}_E${naming.episode}_${part(naming.date)}_take-${naming.take}`;
}

/**
 * Letters, digits and hyphens only: such a name cannot leave its folder and is good on every
 * system. Accents are taken off; what has no plain letter becomes a hyphen.
 */
function part(text: string): string {
  const plain = text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f'’]/g, '')
    .replace(/[^A-Za-z0-9]+/g, '-')
    .slice(0, LONGEST_PART)
    .replace(/^-+|-+$/g, '');
  return plain === '' ? 'untitled' : plain;
}
