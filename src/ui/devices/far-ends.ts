import { farEndOf, namesOf } from '@/core/devices/known-devices';
import type { KnownDevice } from '@/core/devices/device';

/** What to choose in the outside program, with the far ends of both cables by name where the labels tell. */
export function farEndsInWords(known: readonly KnownDevice[], input: string, output: string): { microphone: string; loudspeaker: string } | null {
  const names = namesOf(known);
  const far = (key: string): string | null => {
    const device = known.find((one) => one.key === key);
    const other = device && farEndOf(device, known);
    return other ? (names.get(other.key) ?? null) : null;
  };
  const [microphone, loudspeaker] = [far(output), far(input)];
  return microphone && loudspeaker ? { microphone, loudspeaker } : null;
}

/** Two cables that nothing uses yet: one to hear by, the other to send by. */
export function freeCables(inputs: readonly KnownDevice[], outputs: readonly KnownDevice[], used: ReadonlySet<string>): { input: string; output: string } {
  const all = [...inputs, ...outputs];
  const isFree = (device: KnownDevice): boolean => device.here && !used.has(device.key) && !used.has(farEndOf(device, all)?.key ?? '');
  const cables = inputs.filter((device) => isFree(device) && farEndOf(device, all) !== null);
  const other = (device: KnownDevice | undefined): string => (device ? (farEndOf(device, all)?.key ?? '') : '');
  return cables.length > 1 ? { input: cables[1].key, output: other(cables[0]) } : { input: '', output: '' };
}
