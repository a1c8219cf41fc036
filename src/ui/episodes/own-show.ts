import type { ShowRole } from '@/core/access/rights';

/** A show of whoever is signed in. */
export interface OwnShow {
  id: string;
  name: string;
  role: ShowRole;
  /** Made up, to look around in. */
  demo: boolean;
}
