import type { ReactNode } from 'react';

/** One thing the watch says, and what mends it. */
export interface Notice {
  key: string;
  urgent: boolean;
  words: ReactNode;
  /** `name` says it whole where the label alone could mean another button. */
  action?: { label: string; name?: string; run: () => void };
  more?: { label: string; run: () => void };
}
