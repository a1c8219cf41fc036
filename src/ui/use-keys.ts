import { useEffect, useRef } from 'react';

/** Whether keys belong to what is being typed into, or to the control that has the focus. */
function isTyping(target: EventTarget | null): boolean {
  const element = target as HTMLElement | null;
  return element?.closest?.('input, textarea, select, [contenteditable="true"], [role="textbox"]') != null;
}

/**
 * Single keys that act on the desk, by `event.key` in lower case. Never while typing, never with a
 * modifier, and not again while the key is held down.
 */
export function useKeys(actions: Record<string, () => void>): void {
  const latest = useRef(actions);
  useEffect(() => {
    latest.current = actions;
  });
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.repeat || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      const action = latest.current[event.key.toLowerCase()];
      if (!action) return;
      event.preventDefault();
      action();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
}
