import pino from 'pino';

/** What is kept of an error: no row's values, which the database may put into its details. */
const plainError = ({ name, message, code, stack }: Error & { code?: string }) => ({ type: name, message, ...(code === undefined ? {} : { code }), stack });

/**
 * The log: a line of JSON an event, on the error output, from LOG_LEVEL on (`warn` unless set). It never holds headers, bodies,
 * links or passwords; `request` is the id that the answer carries as x-request-id.
 */
export const log = pino({ level: process.env.LOG_LEVEL ?? 'warn', base: { process: process.env.PROCESS_NAME ?? 'server' }, timestamp: pino.stdTimeFunctions.isoTime, serializers: { err: plainError } }, pino.destination({ dest: 2, sync: true }));
