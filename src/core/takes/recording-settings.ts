import { z } from '../zod';
import { DEFAULT_FILE_NAMES, fileNameTemplateSchema } from './file-name';
import { SAMPLE_FORMATS, type SampleFormat } from '../formats/wav/sample-format';

/** How a show records. */
export interface RecordingSettings {
  format: SampleFormat;
  /** Loudness of finished mixes, LUFS, and the true peak they stay under, dBTP. */
  targetLufs: number;
  ceilingDb: number;
  /** How track files are called; see {@link fileNameTemplateSchema}. */
  fileNames: string;
}

export const recordingSettingsSchema: z.ZodType<RecordingSettings> = z.strictObject({
  format: z.enum(SAMPLE_FORMATS).default('pcm24'),
  targetLufs: z.number().min(-31).max(-9).default(-16),
  ceilingDb: z.number().min(-9).max(-0.1).default(-1),
  fileNames: fileNameTemplateSchema.default(DEFAULT_FILE_NAMES),
});

export const DEFAULT_RECORDING: RecordingSettings = Object.freeze(recordingSettingsSchema.parse({}));

export const FORMAT_WORDS: Record<SampleFormat, string> = Object.freeze({
  pcm16: '16 bits: small files',
  pcm24: '24 bits: what editors expect',
  float32: '32-bit float: cannot clip',
});
