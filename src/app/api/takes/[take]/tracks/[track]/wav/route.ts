import { database } from '@/server/database';
import { trackParams } from '@/server/http/params';
import { rangedDownload } from '@/server/http/ranged-download';
import { route } from '@/server/http/route';
import { trackDownload } from '@/server/takes/downloads';

/** One track as a WAV file. */
export const GET = route({ right: 'watch', params: trackParams }, async ({ params, request }) => rangedDownload(request, await trackDownload(database(), params.take, params.track)));
