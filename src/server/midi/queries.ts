import { midiBindingsSchema, type MidiBinding } from '@/core/session/midi-bindings';
import type { Querier } from '../database';

/** What an account's controller does on the desk. */
export async function findMidi(db: Querier, account: string): Promise<MidiBinding[]> {
  const { rows } = await db.query<{ bindings: unknown }>('select bindings from account_midi where account_id = $1', [account]);
  const stored = midiBindingsSchema.safeParse(rows[0]?.bindings ?? []);
  return stored.success ? stored.data : [];
}

export async function storeMidi(db: Querier, account: string, bindings: readonly MidiBinding[]): Promise<void> {
  await db.query(
    'insert into account_midi (account_id, bindings) values ($1, $2) on conflict (account_id) do update set bindings = excluded.bindings',
    [account, JSON.stringify(bindings)],
  );
}
