'use client';

import { createContext, useContext } from 'react';
import { useStore } from 'zustand';
import type { GuestSession } from '@/live/guest/guest-session';
import type { GuestState } from '@/live/guest/guest-state';

const Context = createContext<GuestSession | null>(null);

export const GuestProvider = Context.Provider;

export function useGuest(): GuestSession {
  const guest = useContext(Context);
  if (!guest) throw new Error('There is no guest session around this component.');
  return guest;
}

export function useGuestState<Part>(select: (state: GuestState) => Part): Part {
  return useStore(useGuest().store, select);
}
