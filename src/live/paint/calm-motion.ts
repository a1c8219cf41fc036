let asked: MediaQueryList | null = null;

/** Whether whoever looks has asked their system for little motion (prefers-reduced-motion, Media Queries Level 5). */
export const calmMotion = (): MediaQueryList => (asked ??= matchMedia('(prefers-reduced-motion: reduce)'));
