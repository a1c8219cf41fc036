import type { GuestData } from '@/core/lines/guest-data';
import type { Guest } from '../access/invitations';
import type { SeatRow } from '../episodes/queries';

/** What a guest's page shows of the episode: who invited them to what. */
export function guestData(guest: Guest, seats: readonly SeatRow[], wording: (show: string, host: string) => string): GuestData {
  const host = seats.find(({ role }) => role === 'host')?.full_name ?? guest.show;
  return {
    seat: guest.seat,
    role: guest.role,
    name: guest.fullName,
    title: guest.title,
    number: guest.number,
    show: guest.show,
    host,
    plannedAt: guest.plannedAt?.toISOString() ?? null,
    consent: wording(guest.show, host),
  };
}
