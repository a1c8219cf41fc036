import { pause } from './pause';

/** How long a context may take to begin: a browser that wants a press of a button first never answers. */
const BEGIN_WITHIN_MS = 1500;

/**
 * Whether a context's sound runs, after it was asked to. Without a press of a button, or without any sound output, a
 * browser may keep it still, and its promise is then never kept.
 */
export async function getRunning(context: AudioContext, withinMs = BEGIN_WITHIN_MS): Promise<boolean> {
  if (context.state === 'running') return true;
  await Promise.race([context.resume().catch(() => undefined), pause(withinMs)]);
  // Its state changes while this waits.
  return (context.state as AudioContextState) === 'running';
}
