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
  words: string;
  action?: NoticeAction;
  more?: NoticeAction;
  /** Further ways. */
  also?: readonly NoticeAction[];
}

const said = ({ key, urgent, words, action, more, also = [] }: Notice): string => JSON.stringify([key, urgent, words, ...[action, more, ...also].map((one) => one && [one.label, one.name])]);

/** Whether a host would see no difference. */
export const sayTheSame = (some: readonly Notice[], others: readonly Notice[]): boolean => some.length === others.length && some.every((one, k) => said(one) === said(others[k]));
