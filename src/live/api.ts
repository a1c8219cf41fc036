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

/** Reads JSON. @throws {ServerError} */
export async function getJson<Answer>(url: string): Promise<Answer> {
  return answerOf<Answer>(() => fetch(url));
}

/** Sends JSON and returns the JSON answer. @throws {ServerError} */
export async function sendJson<Answer>(method: 'PUT' | 'POST', url: string, body: object, keepalive = false): Promise<Answer> {
  const headers = { 'content-type': 'application/json' };
  return answerOf<Answer>(() => fetch(url, { method, headers, body: JSON.stringify(body), keepalive }));
}

async function answerOf<Answer>(ask: () => Promise<Response>): Promise<Answer> {
  let response: Response;
  try {
    response = await ask();
  } catch {
    throw new ServerError(0, 'unreachable', 'The server cannot be reached.');
  }
  const answer = (await response.json().catch(() => ({}))) as { code?: string; message?: string };
  if (!response.ok) {
    throw new ServerError(response.status, answer.code ?? 'unknown', answer.message ?? `The server answered ${response.status}.`);
  }
  return answer as Answer;
}
