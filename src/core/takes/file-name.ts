import { z } from 'zod';

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
const LONGEST_NAME = 200;

/** What a template may name, and what that is. */
export const FILE_NAME_FIELDS = Object.freeze({
  show: 'the show',
  episode: 'number of the episode',
  date: 'day of the recording',
  take: 'number of the take',
  place: 'place of the track',
  person: 'whole name, or what else was recorded',
  kind: 'voice, sounds, return …',
});

export const DEFAULT_FILE_NAMES = '{show}_E{episode}_{date}_take-{take}_{place}_{person}_{kind}';

/** A template of known fields and plain letters in which every track of a take has a name of its own. */
export const fileNameTemplateSchema = z
  .string()
  .trim()
  .max(120)
  .regex(/^(\{[a-z]+\}|[A-Za-z0-9_-])+$/, 'Only letters, digits, “-”, “_” and fields in braces can be in a file name.')
  .refine((template) => [...template.matchAll(/\{([a-z]+)\}/g)].every(([, field]) => field in FILE_NAME_FIELDS), `The fields are ${Object.keys(FILE_NAME_FIELDS).map((field) => `{${field}}`).join(', ')}.`)
  .refine((template) => template.includes('{place}'), 'Without {place} two tracks could have one name.');

/** `Ferry-Weather_E14_2026-11-23_take-1_02_Odalys-Brandt_voice`, without an extension. */
export function trackFileName(naming: TrackNaming, template = DEFAULT_FILE_NAMES): string {
  const values: Record<string, string> = {
    show: part(naming.show),
    episode: String(naming.episode),
    date: part(naming.date),
    take: String(naming.take),
    place: String(naming.place).padStart(2, '0'),
    person: part(naming.name),
    kind: part(naming.kind),
  };
  return template.replace(/\{([a-z]+)\}/g, (_, field: string) => values[field] ?? '').slice(0, LONGEST_NAME);
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
