import { listEvents } from '@/server/audit/events';
import { database } from '@/server/database';
import { showParams } from '@/server/http/params';
import { route } from '@/server/http/route';

/** What was done in the show, for its owners. */
export const GET = route({ right: 'members', params: showParams }, async ({ params }) => Response.json(await listEvents(database(), params.show)));
