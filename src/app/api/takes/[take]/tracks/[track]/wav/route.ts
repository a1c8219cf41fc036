import { database } from '@/server/database';
import { trackParams } from '@/server/http/params';
import { route } from '@/server/http/route';
import { trackDownload } from '@/server/takes/downloads';

/** One track as a WAV file. */
export const GET = route({ right: 'watch', params: trackParams }, ({ params }) => trackDownload(database(), params.take, params.track));
