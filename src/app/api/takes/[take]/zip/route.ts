import { database } from '@/server/database';
import { trackPackage } from '@/server/exports/track-package';
import { takeParams } from '@/server/http/params';
import { rangedDownload } from '@/server/http/ranged-download';
import { route } from '@/server/http/route';

/** All tracks of a take with their papers in one ZIP, made while it is downloaded. */
export const GET = route({ right: 'watch', params: takeParams }, async ({ params, request }) => rangedDownload(request, await trackPackage(database(), params.take)));
