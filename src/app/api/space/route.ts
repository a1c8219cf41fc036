import { statfs } from 'node:fs/promises';
import { noParams } from '@/server/http/params';
import { accountRoute } from '@/server/http/route';

/** Free bytes on the disk of the server's folder, where `npm start` keeps the database; and whether the database is on this machine at all. */
export const GET = accountRoute({ params: noParams }, async () => {
  const { bavail, bsize } = await statfs('.');
  return Response.json({ freeBytes: bavail * bsize, databaseIsHere: /@(127\.0\.0\.1|localhost|\[::1\])[:/]/.test(process.env.DATABASE_URL ?? '') });
});
