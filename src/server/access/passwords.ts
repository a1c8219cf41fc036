import { hash, verify } from '@node-rs/argon2';

/** RFC 9106's second recommended setting: 64 MiB, three passes; the package's algorithm is argon2id. */
const SETTING = { memoryCost: 65536, timeCost: 3, parallelism: 1 };

export const SHORTEST_PASSWORD = 10;

export const hashPassword = (password: string): Promise<string> => hash(password, SETTING);

// Verified when there is no such account, so that both answers take as long.
let nobody: Promise<string> | undefined;

/** Whether the password is right; without a hash it is not, after the same work. */
export async function passwordIs(stored: string | null, password: string): Promise<boolean> {
  nobody ??= hashPassword('nobody has this account');
  const right = await verify(stored ?? (await nobody), password);
  return stored !== null && right;
}
