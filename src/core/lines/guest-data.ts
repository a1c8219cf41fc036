import type { SeatRole } from '../hearing/plan';

/** What a guest's page knows of the episode before the guest is in. */
export interface GuestData {
  seat: string;
  role: SeatRole;
  /** The name the host wrote down; the guest may correct it. */
  name: string;
  title: string;
  number: number;
  show: string;
  host: string;
  /** ISO 8601. */
  plannedAt: string | null;
  /** What the guest is asked to agree to. */
  consent: string;
}
