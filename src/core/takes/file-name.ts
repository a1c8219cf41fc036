import { z } from '../zod';

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
  .refine((template) => [...template.matchAll(/\{([a-z]+)\}/g)].every(([, field]) => Object.hasOwn(FILE_NAME_FIELDS, field)), `The fields are ${Object.keys(FILE_NAME_FIELDS).map((field) => `{${field}}`).join(', ')}.`)
  .refine((template) => template.includes('{place}'), 'Without {place} two tracks could have one name.');

/** `Ferry-Weather_E14_2026-11-23_take-1_02_Odalys-Brandt_voice`, without an extension. */
export function trackFileName(naming: TrackNaming, template = DEFAULT_FILE_NAMES): string {
  const place = String(naming.place).padStart(2, '0');
  // A name that is too long loses letters of its words, all of them alike, and never what tells tracks apart.
  for (let longest = LONGEST_PART; ; longest -= 4) {
    const words = longest > 0 ? longest : 1;
    const values = new Map<string, string>([
      ['show', part(naming.show, words)],
      ['episode', String(naming.episode)],
      ['date', part(naming.date)],
      ['take', String(naming.take)],
      ['place', place],
      ['person', part(naming.name, words)],
      ['kind', part(naming.kind, words)],
    ]);
    const name = template.replace(/\{([a-z]+)\}/g, (_, field: string) => values.get(field) ?? '');
    if (name.length <= LONGEST_NAME) return name;
    // A template of nothing but fields, many times over.
    if (longest <= 0) return `${name.slice(0, LONGEST_NAME - place.length - 1)}_${place}`;
  }
}

/** Names made distinct, in order: whatever would come a second time gets a number behind it. */
export function distinctNames(names: readonly string[]): string[] {
  const used = new Set<string>();
  return names.map((name) => {
    let distinct = name;
    // Two names that differ only in their letters' size are one on many disks.
    for (let n = 2; used.has(distinct.toLowerCase()); n++) distinct = `${name}-${n}`;
    used.add(distinct.toLowerCase());
    return distinct;
  });
}

/** `Ferry-Weather_E14_2026-11-23_take-1` */
export function takeFileName(naming: Pick<TrackNaming, 'show' | 'episode' | 'take' | 'date'>): string {
  return `${part(naming.show)}_E${naming.episode}_${part(naming.date)}_take-${naming.take}`;
}

/**
 * Letters, digits and hyphens only: such a name cannot leave its folder and is good on every
 * system. Accents are taken off; what has no plain letter becomes a hyphen.
 */
function part(text: string, longest = LONGEST_PART): string {
  const plain = text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f'’]/g, '')
    .replace(/[^A-Za-z0-9]+/g, '-')
    .slice(0, longest)
    .replace(/^-+|-+$/g, '');
  return plain === '' ? 'untitled' : plain;
}
