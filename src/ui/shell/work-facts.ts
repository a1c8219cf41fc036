import { useMemo, useSyncExternalStore } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { stillHolds } from '@/core/linecheck/observe-check';
import type { WorkFacts } from '@/core/session/readiness';
import type { DeskState } from '@/live/desk/desk-state';
import { useDesk, useDeskState } from './desk-context';

const MINUTE_MS = 60_000;
const thisMinute = (): number => Math.floor(Date.now() / MINUTE_MS) * MINUTE_MS;
function everyMinute(changed: () => void): () => void {
  const timer = setInterval(changed, MINUTE_MS);
  return () => clearInterval(timer);
}

/** What the way through the work depends on. The lines change several times a second; their states seldom do. */
export function useWorkFacts(): WorkFacts {
  const desk = useDesk();
  const lineStates = useDeskState(({ lines }) => Object.entries(lines).map(([seat, { state }]) => `${seat} ${state}`).join('\n'));
  const minute = useSyncExternalStore(everyMinute, thisMinute, () => 0);
  const facts = useDeskState(
    useShallow(({ seats, invitations, plugged, pads, audit, plan, check, lastCheck, call, recording, lastTake, openTake }: DeskState) => {
      const { permission, known } = plugged.devices;
      return {
        seats,
        invitations,
        noMicrophone: permission === 'refused' || permission === 'unavailable' || (permission === 'granted' && !known.some(({ kind, here }) => kind === 'input' && here)),
        pads: pads.length,
        urgent: audit.findings.filter(({ key, urgent }) => urgent && plan.accepted[key] === undefined).length,
        check: check ? ('on' as const) : lastCheck && stillHolds(lastCheck, minute) ? ('done' as const) : ('none' as const),
        call,
        recording: recording !== null,
        lastTake: lastTake?.number ?? null,
        openTake: openTake !== null,
      };
    }),
  );
  const { takes } = desk.data;
  return useMemo(() => {
    const lines = Object.fromEntries(lineStates.split('\n').filter(Boolean).map((line) => line.split(' '))) as WorkFacts['lines'];
    return { ...facts, lines, takes: takes + (facts.lastTake === null ? 0 : 1), nowMs: minute };
  }, [facts, lineStates, takes, minute]);
}
