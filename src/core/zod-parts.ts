// What is used of zod, by name: as a whole it brings the words of its errors in sixty languages into every page and worker.
export { array, boolean, coerce, config, custom, date, discriminatedUnion, email, enum, instanceof, iso, literal, number, object, partialRecord, record, strictObject, string, union, unknown, uuid, ZodDefault, ZodNumber } from 'zod';
export type { infer, ZodType } from 'zod';
