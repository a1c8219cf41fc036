import type { StationSettings } from '@/core/air/station';
import { basicAuthorization, requestTo } from './source-connection';
import type { Target } from './target';

const ANSWER_WITHIN_MS = 5000;

/** Tells a server by its metadata request what listeners of an MP3 stream read. @throws {Error} with words */
export function sendTitle(target: Target, station: StationSettings, password: string, title: string): Promise<void> {
  const query = new URLSearchParams({ mode: 'updinfo', mount: target.url.pathname, charset: 'UTF-8', song: title });
  return new Promise((resolve, reject) => {
    const request = requestTo(target, {
      method: 'GET',
      path: `/admin/metadata?${query.toString().replaceAll('+', '%20')}`,
      headers: { authorization: basicAuthorization(station.user, password), 'user-agent': 'Brisk Lantern' },
      timeout: ANSWER_WITHIN_MS,
    });
    request.on('response', (response) => {
      response.resume();
      if (response.statusCode === 200) resolve();
      else reject(new Error(`The server did not take the title (${response.statusCode} ${response.statusMessage}).`));
    });
    request.on('timeout', () => request.destroy(new Error('The server did not answer.')));
    request.on('error', (error) => reject(new Error(`The title was not sent: ${error.message}`)));
    request.end();
  });
}
