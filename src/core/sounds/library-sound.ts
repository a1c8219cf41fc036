import type { SoundEdit } from './sound-edit';
import type { SoundKind } from './sound-kind';

/** A sound in a show's library. */
export interface LibrarySound {
  id: string;
  name: string;
  kind: SoundKind;
  notes: string;
  /** Who is named on the air and in show notes when it plays; may be empty. */
  credit: string;
  /** Name of the file as it was given. */
  fileName: string;
  lengthSamples: number;
  /** LUFS and dBTP as measured at import; null for silence, and for what came before measuring did. */
  integratedLufs: number | null;
  shortTermLufs: number | null;
  truePeakDb: number | null;
  headSilenceSamples: number;
  tailSilenceSamples: number;
  /** Added whenever it is played, dB. */
  gainDb: number;
  edit: SoundEdit;
}

/** The longest sound a pad may play: an hour, at 48 kHz. */
export const LONGEST_SOUND_SAMPLES = 48000 * 3600;
/** The largest file taken for import. */
export const LARGEST_FILE_BYTES = 1_000_000_000;
