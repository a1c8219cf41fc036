import type { Locator } from '@playwright/test';

/**
 * Controls that stick out at the side of their container, are smaller than can be pressed, or are covered by something else.
 * @param how `at once`: all must be seen without scrolling; `scrolled`: each once it is scrolled to
 */
export const misplaced = (container: Locator, how: 'at once' | 'scrolled'): Promise<string[]> =>
  container.evaluate((element, scrolls) => {
    const frame = element.getBoundingClientRect();
    const controls = [...element.querySelectorAll<HTMLElement>('button, select, a[href], input:not([type="hidden"]), textarea')];
    return controls.flatMap((control) => {
      // What is drawn by something else (a box, a slider's thumb), or folded away, is not pressed itself.
      if (!control.checkVisibility() || control.offsetWidth < 2 || getComputedStyle(control).clipPath !== 'none' || getComputedStyle(control).clip !== 'auto' || control.matches('[type="range"], [type="checkbox"], [type="file"]')) return [];
      if (scrolls) control.scrollIntoView({ block: 'nearest' });
      const { left, right, top, bottom, width, height } = control.getBoundingClientRect();
      const name = `${control.tagName.toLowerCase()} ${control.getAttribute('aria-label') ?? control.textContent?.slice(0, 30)}`;
      if (left < frame.left - 1 || right > frame.right + 1) return [`${name} is outside`];
      // A link in a sentence is as high as its line.
      const inSentence = control.tagName === 'A' && getComputedStyle(control).display === 'inline';
      if (!inSentence && (width < 24 || height < 24)) return [`${name} is ${Math.round(width)} × ${Math.round(height)}`];
      if (!scrolls && bottom > frame.bottom) return [`${name} is below`];
      const there = document.elementFromPoint((left + right) / 2, (top + bottom) / 2);
      return there && (control.contains(there) || there.contains(control)) ? [] : [`${name} is covered`];
    });
  }, how === 'scrolled');

/** Whether a page scrolls sideways as a whole, px. */
export const sideways = (container: Locator): Promise<number> => container.evaluate((element) => element.scrollWidth - element.clientWidth);
