'use client';

import { CloseButton, Dialog, Portal } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { LINE_STATE_WORDS } from '@/core/lines/line-state';
import type { DeskSeat } from '@/core/session/desk-data';
import type { LineView } from '@/live/lines/line-view';

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
    <Dialog.Root open size="lg" onOpenChange={({ open }) => !open && onClose()}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="surface" borderWidth="1px" borderColor="hairline">
            <Dialog.Header>
              <Dialog.Title fontFamily="heading" fontSize="20px">
                {seat.fullName}: {LINE_STATE_WORDS[line.state]}
              </Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>{children}</Dialog.Body>
            <Dialog.Footer justifyContent="start">{actions}</Dialog.Footer>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" aria-label="Close" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
