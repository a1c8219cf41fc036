'use client';

import { CloseButton, Dialog, Portal, type DialogContentProps, type DialogRootProps } from '@chakra-ui/react';
import type { ReactNode } from 'react';

interface SheetProps extends Pick<DialogRootProps, 'size' | 'scrollBehavior'> {
  title: string;
  /** Below the title, and in sight whatever is scrolled. */
  under?: ReactNode;
  /** At the foot. */
  actions?: ReactNode;
  content?: DialogContentProps;
  /** What the cross is called. */
  closeName?: string;
  onClose(): void;
  children: ReactNode;
}

/** A panel over everything else, until it is closed. */
export function Sheet({ title, under, actions, content, closeName = 'Close', onClose, children, ...root }: SheetProps) {
  return (
    <Dialog.Root open size="lg" {...root} onOpenChange={({ open }) => !open && onClose()}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="surface" borderWidth="1px" borderColor="hairline" {...content}>
            <Dialog.Header pb="8px" display="block">
              <Dialog.Title fontFamily="heading" fontSize="20px">
                {title}
              </Dialog.Title>
              {under}
            </Dialog.Header>
            {/* What scrolls can be scrolled by the keyboard alone. */}
            <Dialog.Body tabIndex={root.scrollBehavior === 'inside' ? 0 : undefined}>{children}</Dialog.Body>
            {actions && <Dialog.Footer justifyContent="start">{actions}</Dialog.Footer>}
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" aria-label={closeName} />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
