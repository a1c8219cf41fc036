import { useEffect, useRef, useState } from 'react';
import type { InputChoice } from '@/core/devices/choices';
import { RingEar } from '@/live/devices/ring-ear';
import { openEar } from '@/live/devices/prove-line';
import { useDesk, useDeskState } from '../shell/desk-context';

export interface Trial {
  /** Peak since the last call, linear; null while nothing is captured. */
  peak(): number | null;
  /** Why it could not be opened. */
  trouble: string;
}

/** Listens to an input while the screen is open and wants it: what a call has open already is read there. */
export function useTrial(choice: Pick<InputChoice, 'source' | 'device'> | null, wanted: boolean): Trial {
  const desk = useDesk();
  const running = useDeskState(({ plugged }) => (choice ? plugged.inputs[choice.source]?.state === 'open' : false));
  const here = useDeskState(({ plugged }) => plugged.devices.known.some(({ key, here: plugs }) => key === choice?.device && plugs));
  const ear = useRef<RingEar | null>(null);
  const [trouble, setTrouble] = useState('');
  const source = choice?.source ?? null;
  const device = choice?.device ?? '';
  useEffect(() => {
    if (!wanted || source === null || device === '' || !here) return;
    let gone = false;
    let close = (): void => undefined;
    const use = (ring: ConstructorParameters<typeof RingEar>[0]): void => {
      ear.current = new RingEar(ring);
    };
    if (running) {
      const { ring } = desk.devices.input(source) ?? {};
      if (ring) use(ring);
    } else {
      openEar(desk.devices, { device }).then(
        (opened) => {
          if (gone) return opened.close();
          close = opened.close;
          setTrouble('');
          use(opened.ring);
        },
        (error: Error) => !gone && setTrouble(error.message),
      );
    }
    return () => {
      gone = true;
      ear.current = null;
      close();
    };
  }, [desk, wanted, source, device, running, here]);
  return { peak: () => ear.current?.take() ?? null, trouble };
}
