import type { DeskData, DeskSeat, SeatInvitation } from '@/core/session/desk-data';
import type { Own, SeatsSlice } from './desk-state';

/** Whoever follows the people of an episode. */
interface SeatFollowers {
  /** The people are others, or have changed. */
  people(seats: DeskSeat[]): void;
  /** They or their invitations are others. */
  any(): void;
}

/** The people of the episode and their invitations, as the server has them. */
export class DeskSeats {
  readonly #store: Own<SeatsSlice>;
  readonly #followers: SeatFollowers;

  constructor(store: Own<SeatsSlice>, followers: SeatFollowers) {
    this.#store = store;
    this.#followers = followers;
    store.subscribe((now, before) => {
      // Whoever found no place while the take ran finds one now.
      const placeless = now.seats.some(({ id }) => !now.plan.seats.some((seat) => seat.id === id));
      if (before.recording && !now.recording && placeless) this.#tell(now.seats);
    });
  }

  /** Somebody was added, changed or taken out. */
  set(seats: DeskSeat[], invitations: SeatInvitation[]): void {
    const same = seats === this.#store.getState().seats;
    this.#store.setState({ seats, invitations });
    if (same) this.#followers.any();
    else this.#tell(seats);
  }

  /** Takes over what the server has, with a plan that knows it already. */
  adopt({ seats, invitations }: DeskData): void {
    this.#store.setState({ seats, invitations });
  }

  #tell(seats: DeskSeat[]): void {
    this.#followers.people(seats);
    this.#followers.any();
  }

  /** The host's seat. */
  host(): string {
    const host = this.#store.getState().seats.find(({ role }) => role === 'host');
    if (!host) throw new Error('This episode has no host.');
    return host.id;
  }
}
