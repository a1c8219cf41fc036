/** The server refused, or could not be reached; the message is for the host. */
export class ServerError extends Error {
  readonly status: number;
  readonly code: string;
  constructor(status: number, code: string, message: string) {
    super(message);
    this.status = status;
    this.code = code;
  }
}

/** Signing in again, or being let in again, makes these succeed; a busy server does not last. */
const PASSING = [401, 403, 408, 429];

/** Whether the same request may be taken later. A status of 0 is no answer at all. */
export const mayPass = (status: number): boolean => status === 0 || status >= 500 || PASSING.includes(status);

interface Sending {
  /** The page may be closing. */
  keepalive?: boolean;
  headers?: Record<string, string>;
}

/** Reads JSON. @throws {ServerError} */
export async function getJson<Answer>(url: string, headers: Record<string, string> = {}): Promise<Answer> {
  return answerOf<Answer>((signal) => fetch(url, { headers, signal }));
}

/** Sends JSON and returns the JSON answer. @throws {ServerError} */
export async function sendJson<Answer>(method: 'PUT' | 'POST' | 'PATCH' | 'DELETE', url: string, body: object = {}, sending: Sending = {}): Promise<Answer> {
  const headers = { 'content-type': 'application/json', ...sending.headers };
  return answerOf<Answer>((signal) => fetch(url, { method, headers, body: JSON.stringify(body), keepalive: sending.keepalive, signal }));
}

/** A connection that was lost without a word would be waited for without end. */
export const ANSWER_WITHIN_MS = 30_000;

async function answerOf<Answer>(ask: (signal: AbortSignal) => Promise<Response>): Promise<Answer> {
  let response: Response;
  try {
    response = await ask(AbortSignal.timeout(ANSWER_WITHIN_MS));
  } catch (error) {
    if ((error as Error).name === 'TimeoutError') throw new ServerError(0, 'unreachable', 'The server does not answer.');
    throw new ServerError(0, 'unreachable', 'The server cannot be reached.');
  }
  const answer = (await response.json().catch(() => ({}))) as { code?: string; message?: string };
  if (!response.ok) {
    throw new ServerError(response.status, answer.code ?? 'unknown', answer.message ?? `The server answered ${response.status}.`);
  }
  return answer as Answer;
}
