import { mayPass } from '../api';

/** What a server said that did not take something. */
export interface Problem {
  code: string;
  message: string;
  /** Whether the same request may be taken later: the server is away or full, or whoever asks has to sign in again. */
  passing: boolean;
}

const UNREACHABLE: Problem = Object.freeze({ code: 'unreachable', message: 'The server cannot be reached.', passing: true });

/** Null when it was taken; else what stood in the way. */
export async function problemWith(response: Response | null): Promise<Problem | null> {
  if (response === null) return UNREACHABLE;
  if (response.ok) return null;
  const { code = 'unknown', message = `The server answered ${response.status}.` } = (await response.json().catch(() => ({}))) as { code?: string; message?: string };
  return { code, message, passing: mayPass(response.status) || code === 'checksum' };
}
