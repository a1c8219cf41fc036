import { z } from 'zod';
import { SAMPLE_FORMATS, type SampleFormat } from '../formats/wav/sample-format';

/** How a show records. */
export interface RecordingSettings {
  format: SampleFormat;
}

export const recordingSettingsSchema: z.ZodType<RecordingSettings> = z.strictObject({ format: z.enum(SAMPLE_FORMATS).default('pcm24') });

export const FORMAT_WORDS: Record<SampleFormat, string> = Object.freeze({
  pcm16: '16 bits: small files',
  pcm24: '24 bits: what editors expect',
  float32: '32-bit float: cannot clip',
});
