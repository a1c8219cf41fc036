'use client';

import { createContext, useContext, useState, type ReactNode } from 'react';
import type { SourceId } from '@/core/hearing/ids';
import { sourcesOf } from '@/core/hearing/plan';
import { useDeskState } from '../shell/desk-context';
import { StripDialog } from './strip-dialog';

const Opener = createContext<(source: SourceId) => void>(() => undefined);

/** Opens what is done to a source. */
export const useStripOpener = (): ((source: SourceId) => void) => useContext(Opener);

/** Holds the panel of a strip apart from the lane it was opened from: lanes are laid out anew when somebody comes. */
export function StripOpener({ children }: { children: ReactNode }) {
  const [open, setOpen] = useState<SourceId | null>(null);
  return (
    <Opener value={setOpen}>
      {children}
      {open && <OpenStrip id={open} onClose={() => setOpen(null)} />}
    </Opener>
  );
}

function OpenStrip({ id, onClose }: { id: SourceId; onClose(): void }) {
  const plan = useDeskState((state) => state.plan);
  const source = sourcesOf(plan).find((one) => one.id === id);
  return source ? <StripDialog source={source} onClose={onClose} /> : null;
}
