import { database } from '@/server/database';
import { takeParams } from '@/server/http/params';
import { route } from '@/server/http/route';
import { takeDownload } from '@/server/takes/downloads';

/** All tracks of a take in one ZIP file. */
export const GET = route({ right: 'watch', params: takeParams }, ({ params }) => takeDownload(database(), params.take));
