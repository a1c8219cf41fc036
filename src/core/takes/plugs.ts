import { z } from '../zod';
import { INPUT_CHANNELS, OUTPUT_CHANNELS, type InputChannels, type OutputChannels } from '../devices/device';
import { listenerId, sourceId } from '../hearing/plan-schema';
import type { ListenerId, SourceId } from '../hearing/ids';
import { MOST_OFFSET_MS } from '../hearing/source-treatment';

/** What was plugged in where from a sample of a take on. Devices by the names they had. */
export interface TakePlugs {
  atSample: number;
  inputs: { source: SourceId; device: string; channels: InputChannels }[];
  /** `offsetMs`: so much later the mix left than it was made. The tracks are never shifted. */
  outlets: { listener: ListenerId; device: string; channels: OutputChannels; offsetMs: number }[];
}

const device = z.string().max(200);
export const takePlugsSchema: z.ZodType<TakePlugs> = z.object({
  atSample: z.number().int().nonnegative(),
  inputs: z.array(z.object({ source: sourceId, device, channels: z.enum(INPUT_CHANNELS) })).max(64),
  outlets: z.array(z.object({ listener: listenerId, device, channels: z.enum(OUTPUT_CHANNELS), offsetMs: z.number().min(0).max(MOST_OFFSET_MS) })).max(64),
});
