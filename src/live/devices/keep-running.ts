import { pause } from '../pause';
import { canChooseOutputs, type Sink } from './open-context';

type Movable = AudioContext & { setSinkId(sink: Sink): Promise<void> };

const LOOK_MS = 500;
/** A context that renders has gone on by then. */
const GOES_ON_MS = 250;

/**
 * Keeps a context going whose device may be pulled out: browsers go on at the system's own output, or stop. One that has
 * stopped is moved there, and where that does not help to no output at all. Returns what ends the watch.
 */
export function keepRunning(context: AudioContext): () => void {
  let last = context.currentTime;
  let mending = false;
  const goesOn = async (): Promise<boolean> => {
    const before = context.currentTime;
    await pause(GOES_ON_MS);
    return context.currentTime > before;
  };
  const mend = async (): Promise<void> => {
    if (mending || context.state === 'closed' || !canChooseOutputs()) return;
    mending = true;
    for (const sink of ['', { type: 'none' }] as const) {
      if (await goesOn()) break;
      await (context as Movable).setSinkId(sink).catch(() => undefined);
      await Promise.race([context.resume().catch(() => undefined), pause(GOES_ON_MS)]);
    }
    mending = false;
  };
  const onError = (): void => void mend();
  context.addEventListener('error', onError);
  const timer = setInterval(() => {
    // A context the browser holds back, until somebody presses something, is not broken.
    const stands = context.state === 'running' && context.currentTime === last;
    last = context.currentTime;
    if (stands) void mend();
  }, LOOK_MS);
  return () => {
    clearInterval(timer);
    context.removeEventListener('error', onError);
  };
}
