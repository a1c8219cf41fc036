import { getJson } from '../api';
import type { DeskState, Own, SpaceSlice } from './desk-state';

const LOOK_EVERY_MS = 20_000;
/** The journal here holds 32-bit floats at 48 kHz. */
const BYTES_A_SAMPLE_HERE = 4;
const RATE = 48000;

/** Keeps an eye on the free space, here and at the server. Returns what ends it. */
export function watchSpace(store: Own<SpaceSlice>): () => void {
  const look = async (): Promise<void> => {
    const estimate = await navigator.storage?.estimate?.().catch(() => null);
    const here = estimate?.quota === undefined ? null : estimate.quota - (estimate.usage ?? 0);
    const server = await getJson<{ freeBytes: number | null }>('/api/space').then(({ freeBytes }) => freeBytes, () => store.getState().space.server);
    store.setState({ space: { here, server } });
  };
  void look();
  const timer = setInterval(() => void look(), LOOK_EVERY_MS);
  return () => clearInterval(timer);
}

/** Minutes of recording for which there is room; null where that is not known. */
export interface Room {
  /** On this computer, which holds only what the server has not: how long that may be away. */
  here: number | null;
  server: number | null;
}

export function roomFor(space: DeskState['space'], channels: number, bytesASample: number): Room {
  const minutes = (bytes: number | null, width: number) => (bytes === null ? null : bytes / (channels * width * RATE * 60));
  return { here: minutes(space.here, BYTES_A_SAMPLE_HERE), server: minutes(space.server, bytesASample) };
}

/** Less room than this is a reason to act before recording, or while: minutes. */
const LITTLE_SERVER = 60;
const LITTLE_HERE = 5;

/** What a host must know of the room that is left; empty while there is enough. */
export function shortOfRoom({ here, server }: Room): string {
  if (server !== null && server < LITTLE_SERVER) return `room for ${Math.floor(server)} min on the server`;
  if (here !== null && here < LITTLE_HERE) return `room for ${Math.floor(here)} min on this computer if the server goes away`;
  return '';
}

/** `14 h on the server; 58 min on this computer, if the server goes away` */
export function roomInWords({ here, server }: Room): string {
  const words = (minutes: number) => (minutes >= 120 ? `${Math.floor(minutes / 60)} h` : `${Math.floor(minutes)} min`);
  return [server === null ? '' : `${words(server)} on the server`, here === null ? '' : `${words(here)} on this computer, if the server goes away`].filter((part) => part !== '').join('; ');
}
