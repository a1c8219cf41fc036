import { openRoute } from '@/server/http/route';

/** Says that the server answers; whether all it needs is there says `/api/ready`. */
export const GET = openRoute(() => Promise.resolve(Response.json({ ok: true })));
