import type { DevicesState } from '@/live/devices/device-owner';

/** What stands in the way of choosing devices, and what to do about it; null where nothing does. */
export function permissionInWords({ permission, known, canChooseOutputs }: DevicesState): string | null {
  if (permission === 'unavailable') return 'This page cannot use devices: open it by https, or on this machine by localhost. Guests by link, sounds and practice callers work.';
  if (permission === 'refused') return 'The browser was told not to let this page use microphones. Allow it in the browser’s address bar, then reload. Everything that needs no microphone works.';
  if (permission === 'unasked') return 'The browser names microphones and outputs only when this page may use a microphone.';
  if (!known.some(({ kind, here, simulated }) => kind === 'input' && here && !simulated)) return 'No microphone is plugged in. Plug one in; it appears here by itself.';
  if (!canChooseOutputs) return 'This browser cannot choose outputs: your phones are whatever the system uses, and returns by devices and outlets do not work here. A current Chromium can.';
  return null;
}
