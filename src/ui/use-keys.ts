import { useLayoutEffect, useRef } from 'react';
import type { KeyAction } from '@/live/desk/hold-or-latch';

/** Whether keys belong to what is being typed into. */
function isTyping(target: EventTarget | null): boolean {
  const element = target as HTMLElement | null;
  return element?.closest?.('input:not([type="checkbox"]):not([type="range"]), textarea, select, [contenteditable="true"], [role="textbox"]') != null;
}

/**
 * Single keys that act on the desk, by `event.key` in lower case. Never while typing, never with a
 * modifier, and not again while the key is held down. A key that went down here is released here,
 * wherever the focus is by then; when the window loses the keyboard, everything is released.
 */
export function useKeys(actions: Record<string, KeyAction>, onLostKeyboard?: () => void): void {
  const latest = useRef({ actions, onLostKeyboard });
  // Before what has these keys is seen: afterwards would be whenever a busy page has a moment, and a press meanwhile would be lost.
  useLayoutEffect(() => {
    latest.current = { actions, onLostKeyboard };
  });
  useLayoutEffect(() => {
    const down = new Map<string, KeyAction>();
    const press = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      const key = event.key.toLowerCase();
      const action = latest.current.actions[key];
      if (!action) return;
      event.preventDefault();
      if (event.repeat || down.has(key)) return;
      down.set(key, action);
      action.press(event.timeStamp);
    };
    const release = (event: KeyboardEvent) => {
      const key = event.key.toLowerCase();
      down.get(key)?.release?.(event.timeStamp);
      down.delete(key);
    };
    const lose = () => {
      down.clear();
      latest.current.onLostKeyboard?.();
    };
    const hide = () => document.hidden && lose();
    window.addEventListener('keydown', press);
    window.addEventListener('keyup', release);
    window.addEventListener('blur', lose);
    document.addEventListener('visibilitychange', hide);
    return () => {
      window.removeEventListener('keydown', press);
      window.removeEventListener('keyup', release);
      window.removeEventListener('blur', lose);
      document.removeEventListener('visibilitychange', hide);
    };
  }, []);
}
