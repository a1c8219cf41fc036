import type { ListenerId, SourceId } from '@/core/hearing/ids';

/** What the host points at: one crosspoint, a whole row or a whole column. */
export interface Selection {
  source: SourceId | null;
  listener: ListenerId | null;
}
