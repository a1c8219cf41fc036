import { z } from '@/core/zod';
import { deviceChoicesSchema, knownDeviceSchema, type DeviceChoices } from '@/core/devices/choices';
import type { KnownDevice } from '@/core/devices/device';

/** Devices are this browser's own: nothing of them is sent to the server. */
const DEVICES = 'brisk-lantern.devices';
const choicesOf = (episode: string): string => `brisk-lantern.plugged.${episode}`;
/** What was last chosen for the host, wherever that was. */
const OWN = 'brisk-lantern.plugged.own';

const deskSoundSchema = z.object({ microphone: z.string().nullable(), phones: z.string().nullable() });
export type OwnSound = z.infer<typeof deskSoundSchema>;

function read<Value>(key: string, schema: z.ZodType<Value>): Value | null {
  try {
    const parsed = schema.safeParse(JSON.parse(localStorage.getItem(key) ?? 'null'));
    return parsed.success ? parsed.data : null;
  } catch {
    return null;
  }
}

function write(key: string, value: unknown): void {
  try {
    localStorage.setItem(key, JSON.stringify(value));
  } catch {
    // A browser that keeps nothing asks again next time.
  }
}

export const readKnown = (): KnownDevice[] => (read(DEVICES, z.array(knownDeviceSchema)) ?? []).filter(({ simulated }) => !simulated).map((device) => ({ ...device, here: false }));
export const writeKnown = (known: readonly KnownDevice[]): void => write(DEVICES, known.filter(({ simulated }) => !simulated).slice(-100));
export const readChoices = (episode: string): DeviceChoices | null => read(choicesOf(episode), deviceChoicesSchema);
export const writeChoices = (episode: string, choices: DeviceChoices): void => write(choicesOf(episode), choices);
export const readOwnSound = (): OwnSound => read(OWN, deskSoundSchema) ?? { microphone: null, phones: null };
export const writeOwnSound = (own: OwnSound): void => write(OWN, own);
