import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import { useDeskState } from '../shell/desk-context';

/**
 * Whether an open take is being recorded at the desk, here or at another window. One that was just sealed here is not left open
 * either: the page does not know of its seal yet.
 */
export const useIsRecorded = (number: number): boolean => useDeskState(({ recording, watched, lastTake }) => [recording, watched?.recording, lastTake].some((one) => one?.number === number));

/** Asks the server for the page again whenever a recording begins or has ended. */
export function useFreshAfterRecording(): void {
  const router = useRouter();
  const recorded = useDeskState(({ recording, watched }) => recording?.number ?? watched?.recording?.number ?? null);
  useEffect(() => router.refresh(), [router, recorded]);
}
