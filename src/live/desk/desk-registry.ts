import type { DeskData } from '@/core/session/desk-data';
import { DeskSession } from './desk-session';

const desks = new Map<string, DeskSession>();

/**
 * The desk of an episode. It lives as long as the page is loaded, whatever is on the screen: a
 * call, a sound or a recording does not end because the host looks at something else.
 */
export function deskOf(data: DeskData): DeskSession {
  let desk = desks.get(data.episode.id);
  if (!desk) {
    desk = new DeskSession(data);
    desks.set(data.episode.id, desk);
    guardLeaving(desk);
    desk.open();
  }
  return desk;
}

/** Sends what is not kept when the page goes, and asks first while a take is being recorded. */
function guardLeaving(desk: DeskSession): void {
  window.addEventListener('pagehide', () => desk.plan.flush());
  window.addEventListener('beforeunload', (event) => {
    if (desk.store.getState().recording) event.preventDefault();
  });
}
