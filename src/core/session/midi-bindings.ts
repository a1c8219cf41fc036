import { z } from '../zod';
import { HIGHEST_DB } from '../hearing/plan';
import { DESK_ACTION_NAMES } from './desk-actions';

/** What a note or a controller of a MIDI device does on the desk. */
export type MidiTarget =
  | { does: 'pad'; sound: string }
  | { does: 'action'; action: (typeof DESK_ACTION_NAMES)[number] }
  /** The gain of a source, by its id in the plan. */
  | { does: 'gain'; source: string };

export interface MidiBinding {
  /** Notes press, controllers ride. */
  message: 'note' | 'controller';
  /** 1 to 16. */
  channel: number;
  /** Note or controller, 0 to 127. */
  number: number;
  target: MidiTarget;
}

const target = z.discriminatedUnion('does', [
  z.strictObject({ does: z.literal('pad'), sound: z.uuid() }),
  z.strictObject({ does: z.literal('action'), action: z.enum(DESK_ACTION_NAMES) }),
  z.strictObject({ does: z.literal('gain'), source: z.string().regex(/^(voice|sounds|share):[a-z0-9-]{1,40}$/) }),
]);

export const midiBindingsSchema: z.ZodType<MidiBinding[]> = z
  .array(
    z.strictObject({
      message: z.enum(['note', 'controller']),
      channel: z.number().int().min(1).max(16),
      number: z.number().int().min(0).max(127),
      target,
    }),
  )
  .max(256);

/** A message as a controller sends it. */
export interface MidiMessage {
  message: 'note' | 'controller';
  channel: number;
  number: number;
  /** 0 to 127; 0 lets a note go. */
  value: number;
}

/** What is bound to a message; null for nothing. */
export const boundTo = (bindings: readonly MidiBinding[], { message, channel, number }: MidiMessage): MidiTarget | null =>
  bindings.find((one) => one.message === message && one.channel === channel && one.number === number)?.target ?? null;

/** The bindings with this message doing this, and nothing else doing it. */
export function bind(bindings: readonly MidiBinding[], { message, channel, number }: MidiMessage, target: MidiTarget): MidiBinding[] {
  const others = bindings.filter(
    (one) => !(one.message === message && one.channel === channel && one.number === number) && JSON.stringify(one.target) !== JSON.stringify(target),
  );
  return [...others, { message, channel, number, target }];
}

const LOWEST_GAIN_DB = -60;

/** The gain a controller's position stands for: 100 is 0 dB, the last step above 0 nearly silence. */
export function controllerGainDb(value: number): number {
  if (value <= 0) return LOWEST_GAIN_DB;
  const db = value >= 100 ? ((value - 100) / 27) * HIGHEST_DB : 40 * Math.log10(value / 100);
  return Math.round(Math.max(LOWEST_GAIN_DB, db) * 10) / 10;
}
