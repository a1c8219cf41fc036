import { z } from '../zod';

/** How the sound of one link is coded. */
export interface LineSettings {
  /** Bitrate of the guest's voice to the desk, kbit/s. */
  voiceKbps: number;
  /** Bitrate of the return to the guest, kbit/s. */
  returnKbps: number;
  /** Whether the return is stereo. */
  stereoReturn: boolean;
}

const kbps = z.number().int().min(16).max(256);

export const lineSettingsSchema: z.ZodType<LineSettings> = z.object({
  voiceKbps: kbps.default(96),
  returnKbps: kbps.default(128),
  stereoReturn: z.boolean().default(true),
});

export const DEFAULT_LINE: LineSettings = Object.freeze({ voiceKbps: 96, returnKbps: 128, stereoReturn: true });
