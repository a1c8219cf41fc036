import type { SourceId } from '@/core/hearing/ids';
import type { Tap } from '@/core/session/captures';
import type { StageName } from '@/core/linecheck/schedule';
import type { CheckSetup } from '@/core/linecheck/setup';
import type { Arrivals } from '@/core/linecheck/ways-back';

/** What the page tells the worker that judges a line check. */
export type ToCheckWorker =
  | { type: 'begin'; setup: CheckSetup }
  /** A capture of one stage begins. `names` are sources or listeners, one for each tap. */
  | { type: 'stage'; stage: StageName; ring: SharedArrayBuffer; taps: Tap[]; names: string[]; leftOut: string[] }
  /** The stage's probes began with this sample of the session clock. */
  | { type: 'began'; at: number };

/** What it found. */
export type FromCheckWorker =
  /** By listener: dB of each source in the engine. */
  | { type: 'sources'; engineDb: (number | null)[][] }
  /** By source: what came in, and whether nothing did at all. */
  | { type: 'inputs'; heard: [SourceId, Arrivals][]; silent: SourceId[] };
