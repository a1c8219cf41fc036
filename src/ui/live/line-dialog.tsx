'use client';

import type { ReactNode } from 'react';
import { LINE_STATE_WORDS } from '@/core/lines/line-state';
import type { DeskSeat } from '@/core/session/desk-data';
import type { LineView } from '@/live/lines/line-view';
import { Sheet } from '../shell/sheet';

/** What the panels of all lines get. */
export interface LinePanelProps {
  seat: DeskSeat;
  line: LineView;
  now: number;
  onClose(): void;
}

/** A panel over everything else: one line, what is known of it, and what can be done with it. */
export function LineDialog({ seat, line, onClose, actions, children }: Omit<LinePanelProps, 'now'> & { actions: ReactNode; children: ReactNode }) {
  return (
    <Sheet title={`${seat.fullName}: ${LINE_STATE_WORDS[line.state]}`} actions={actions} onClose={onClose}>
      {children}
    </Sheet>
  );
}
