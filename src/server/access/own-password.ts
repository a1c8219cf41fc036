import type { Querier } from '../database';
import { HttpError } from '../http/errors';
import { findPasswordHash, type Account } from './accounts';
import { countAttempt } from './attempts';
import { passwordIs } from './passwords';

/** What only whoever knows the account's password may do. @throws {HttpError} 403, 429 */
export async function requireOwnPassword(db: Querier, account: Account, password: string): Promise<void> {
  await countAttempt(db, { bucket: `password/${account.id}`, most: 10, seconds: 900 });
  const found = await findPasswordHash(db, account.email);
  if (!(await passwordIs(found?.hash ?? null, password))) throw new HttpError(403, 'wrong-password', 'The password you have now is another one. Nothing was changed.');
}
