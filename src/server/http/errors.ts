import { troubleOfDatabase } from '../database';
import { log } from '../log';

/** One thing wrong with a request: where, which kind, and words for a person. */
export interface Issue {
  path: string;
  code: string;
  message: string;
}

/** A request that is answered with an error the host can read. */
export class HttpError extends Error {
  readonly status: number;
  readonly code: string;
  readonly issues: Issue[];

  constructor(status: number, code: string, message: string, issues: Issue[] = []) {
    super(message);
    this.status = status;
    this.code = code;
    this.issues = issues;
  }
}

export const notFound = (what: string): HttpError =>
  new HttpError(404, 'not-found', `There is no such ${what} here.`);

/** The answer to a request that failed: a code, a sentence and where the fault lies. @param request its id, by which the log knows it */
export function errorResponse(error: unknown, request = ''): Response {
  if (error instanceof HttpError) {
    const { status, code, message, issues } = error;
    return Response.json({ code, message, issues }, { status });
  }
  // Whoever asked went away in the middle of it: nobody reads an answer. It has the code of a broken connection, and is none to the database.
  if ((error as Error | null)?.message === 'aborted') return new Response(null, { status: 400 });
  const trouble = troubleOfDatabase(error);
  if (trouble) {
    log.error({ err: error, request }, 'the database');
    const { status, code, message } = trouble;
    return Response.json({ code, message, issues: [] }, { status });
  }
  log.error({ err: error, request }, 'a request failed');
  return Response.json(
    {
      code: 'internal',
      message: `The server failed to answer. What was already stored is safe; try again.${request && ` The log says why, under ${request}.`}`,
      issues: [],
    },
    { status: 500 },
  );
}
