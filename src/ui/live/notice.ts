import type { ReactNode } from 'react';

export interface NoticeAction {
  label: string;
  /** Says it whole where the label alone could mean another button. */
  name?: string;
  run: () => void;
}

/** One thing the watch says, and what mends it. */
export interface Notice {
  key: string;
  urgent: boolean;
  words: ReactNode;
  action?: NoticeAction;
  more?: NoticeAction;
  /** Further ways. */
  also?: readonly NoticeAction[];
}
