import { useEffect, useState } from 'react';
import { testCallPhase, type TestCallPhase } from '@/core/session/play-back';

/** Follows a test call that began then, in `performance.now()` time; null where there is none. */
export function useTestCallPhase(beganAt: number | null): TestCallPhase | null {
  const [shown, setShown] = useState<{ of: number; phase: TestCallPhase } | null>(null);
  useEffect(() => {
    if (beganAt === null) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const show = (): void => {
      const { phase, left } = testCallPhase((performance.now() - beganAt) / 1000);
      setShown({ of: beganAt, phase });
      if (phase !== 'over') timer = setTimeout(show, 1000 * left + 5);
    };
    timer = setTimeout(show, 0);
    return () => clearTimeout(timer);
  }, [beganAt]);
  if (beganAt === null) return null;
  return shown?.of === beganAt ? shown.phase : 'tone';
}
