import { timingSafeEqual } from 'node:crypto';
import { fromLoopback } from '@/server/access/caller-address';
import { database } from '@/server/database';
import { metrics } from '@/server/health/metrics';
import { HttpError } from '@/server/http/errors';
import { openRoute } from '@/server/http/route';

/** Figures for whoever watches the server: from this machine, or with METRICS_TOKEN as a bearer token. */
export const GET = openRoute(async ({ headers }) => {
  if (!fromLoopback(headers) && !hasToken(headers.get('authorization'))) throw new HttpError(401, 'sign-in', 'Figures are given to this machine, or to whoever has METRICS_TOKEN.');
  return new Response(await metrics(database()), { headers: { 'content-type': 'text/plain; version=0.0.4; charset=utf-8', 'cache-control': 'no-store' } });
});

function hasToken(authorization: string | null): boolean {
  const wanted = process.env.METRICS_TOKEN ?? '';
  const given = Buffer.from(authorization ?? '');
  const right = Buffer.from(`Bearer ${wanted}`);
  return wanted.length >= 16 && given.length === right.length && timingSafeEqual(given, right);
}
