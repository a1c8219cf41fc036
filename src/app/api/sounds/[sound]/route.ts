import { z } from '@/core/zod';
import { LONGEST_SOUND_SAMPLES } from '@/core/sounds/library-sound';
import { SOUND_KINDS } from '@/core/sounds/sound-kind';
import { database } from '@/server/database';
import { readJson, route } from '@/server/http/route';
import { changeSound, removeSound } from '@/server/sounds/queries';

const soundParams = z.object({ sound: z.uuid() });
const samples = z.number().int().nonnegative().max(LONGEST_SOUND_SAMPLES);
const soundBody = z.object({
  name: z.string().trim().min(1).max(80).optional(),
  kind: z.enum(SOUND_KINDS).optional(),
  notes: z.string().max(500).optional(),
  credit: z.string().trim().max(120).optional(),
  gainDb: z.number().min(-60).max(40).optional(),
  edit: z
    .strictObject({
      inSample: samples,
      outSample: samples,
      fadeInSamples: samples,
      fadeOutSamples: samples,
      loop: z.strictObject({ from: samples, to: samples }).nullable(),
    })
    .optional(),
});

/** Changes what is written of a sound, its gain, or what of it is played; the sound itself stays as it is. */
export const PUT = route({ right: 'work', params: soundParams }, async ({ params, request }) =>
  Response.json(await changeSound(database(), params.sound, await readJson(request, soundBody, 4096))),
);

export const DELETE = route({ right: 'work', params: soundParams }, async ({ params }) => {
  await removeSound(database(), params.sound);
  return Response.json({ removed: params.sound });
});
