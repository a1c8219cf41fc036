import { z } from '@/core/zod';
import { readFlacStreamInfo } from '@/core/formats/flac/stream-info';
import { LONGEST_SOUND_SAMPLES } from '@/core/sounds/library-sound';
import { SOUND_KINDS } from '@/core/sounds/sound-kind';
import { database } from '@/server/database';
import { HttpError } from '@/server/http/errors';
import { showParams } from '@/server/http/params';
import { readParts, route } from '@/server/http/route';
import { insertImportedSound, listSounds } from '@/server/sounds/queries';
import { withSpooledSound } from '@/server/sounds/sound-file';

/** An hour of stereo at 24 bits, should FLAC gain nothing. */
const LARGEST_SOUND_BYTES = LONGEST_SOUND_SAMPLES * 2 * 3 + 65536;

export const GET = route({ right: 'watch', params: showParams }, async ({ params }) => Response.json(await listSounds(database(), params.show)));

const decibels = z.coerce.number().min(-200).max(40).nullable().catch(null);
const samples = z.coerce.number().int().min(0).max(LONGEST_SOUND_SAMPLES);

/** What was measured, beside the sound itself in the body. */
const soundQuery = z.object({
  name: z.string().trim().min(1).max(80),
  kind: z.enum(SOUND_KINDS),
  fileName: z.string().min(1).max(200),
  originalSha256: z.string().regex(/^[0-9a-f]{64}$/),
  integratedLufs: decibels,
  shortTermLufs: decibels,
  truePeakDb: decibels,
  headSilenceSamples: samples,
  tailSilenceSamples: samples,
  gainDb: z.coerce.number().min(-60).max(40),
});

/** Takes a sound that was imported in the browser: FLAC at 48 kHz, with its measures in the address. */
export const POST = route({ right: 'work', params: showParams, query: soundQuery }, async ({ params, query, request }) => {
  return withSpooledSound(readParts(request, LARGEST_SOUND_BYTES), async (file) => {
    const { lengthSamples, sampleRate, channels } = streamInfo(file.head);
    if (sampleRate !== 48000 || channels > 2) throw new HttpError(422, 'format', 'A sound is kept as mono or stereo FLAC at 48 kHz.');
    if (lengthSamples < 1 || lengthSamples > LONGEST_SOUND_SAMPLES) throw new HttpError(422, 'length', 'A sound has at least one sample and lasts an hour at most.');
    const sound = await insertImportedSound(database(), { ...query, show: params.show, originalSha256: Buffer.from(query.originalSha256, 'hex'), file, lengthSamples });
    return Response.json(sound, { status: 201 });
  });
});

function streamInfo(audio: Buffer): ReturnType<typeof readFlacStreamInfo> {
  try {
    return readFlacStreamInfo(audio);
  } catch (cause) {
    throw new HttpError(422, 'not-flac', `This is not a FLAC stream: ${(cause as Error).message}`);
  }
}
