import type { SourceId } from '@/core/hearing/ids';
import type { LineGap } from '../recorder/messages';

/** Where the sources of a take brought nothing: one stretch at a time each. */
export class TakeGaps {
  #gaps: LineGap[];

  /** @param earlier those of a take that is gone on with at this sample */
  constructor(earlier: readonly LineGap[] = [], atSample = 0) {
    this.#gaps = earlier.map((gap) => ({ ...gap, endSample: gap.endSample ?? atSample }));
  }

  get all(): readonly LineGap[] {
    return this.#gaps;
  }

  /** Nothing comes of it from here on. */
  begin(recorded: SourceId, atSample: number, cause: LineGap['cause']): void {
    const open = this.#open(recorded);
    if (!open) this.#gaps.push({ recorded, atSample, endSample: null, cause });
    // Sound ran dry before the device was missed.
    else if (open.cause === 'device-late') open.cause = cause;
  }

  /** Its sound comes again from here on. */
  end(recorded: SourceId, atSample: number): void {
    const open = this.#open(recorded);
    if (open) open.endSample = Math.max(atSample, open.atSample + 1);
  }

  #open(recorded: SourceId): LineGap | undefined {
    return this.#gaps.find((gap) => gap.recorded === recorded && gap.endSample === null);
  }
}
