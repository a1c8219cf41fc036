import { z } from '@/core/zod';
import { DEFAULT_KEYS, DESK_ACTION_NAMES, KEY_PATTERN, type DeskKeys } from '@/core/session/desk-actions';
import type { Querier } from '../database';

const key = z.string().regex(KEY_PATTERN, 'must be one key that types something, in lower case');

/** Keys of all actions, no two alike. */
export const keysSchema: z.ZodType<DeskKeys> = z
  .record(z.enum(DESK_ACTION_NAMES), key)
  .superRefine((keys, context) => {
    const seen = new Map<string, string>();
    for (const [action, chosen] of Object.entries(keys)) {
      const other = seen.get(chosen);
      if (other) context.addIssue({ code: 'custom', path: [action], message: `has the key of ${other}` });
      seen.set(chosen, action);
    }
  });

/** The keys of an account, with the default for every action that has none. */
export async function findKeys(db: Querier, account: string): Promise<DeskKeys> {
  const { rows } = await db.query<{ bindings: unknown }>('select bindings from account_keys where account_id = $1', [account]);
  const stored = z.partialRecord(z.enum(DESK_ACTION_NAMES), key).safeParse(rows[0]?.bindings ?? {});
  const keys = keysSchema.safeParse(withDefaults(stored.data ?? {}));
  return keys.success ? keys.data : DEFAULT_KEYS;
}

/** An action that came later takes its own key only where the host has not given it to another. */
function withDefaults(chosen: Partial<DeskKeys>): Partial<DeskKeys> {
  const keys = { ...chosen };
  for (const action of DESK_ACTION_NAMES) {
    const isFree = (one: string) => !Object.values(keys).includes(one);
    keys[action] ??= [DEFAULT_KEYS[action], ...'abcdefghijklmnopqrstuvwxyz'].find(isFree);
  }
  return keys;
}

export async function storeKeys(db: Querier, account: string, keys: DeskKeys): Promise<void> {
  await db.query(
    'insert into account_keys (account_id, bindings) values ($1, $2) on conflict (account_id) do update set bindings = excluded.bindings',
    [account, JSON.stringify(keys)],
  );
}
