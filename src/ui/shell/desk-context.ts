import { createContext, useContext } from 'react';
import { useStore } from 'zustand';
import type { DeskSession } from '@/live/desk/desk-session';
import type { DeskState } from '@/live/desk/desk-state';

const DeskContext = createContext<DeskSession | null>(null);
export const DeskProvider = DeskContext.Provider;

/** The desk of this page. */
export function useDesk(): DeskSession {
  const desk = useContext(DeskContext);
  if (!desk) throw new Error('This part of the screen needs a desk around it.');
  return desk;
}

/** A part of the desk's state; the component is drawn again only when that part changes. */
export function useDeskState<Part>(select: (state: DeskState) => Part): Part {
  return useStore(useDesk().store, select);
}
