import { z } from '@/core/zod';
import { deviceChoicesSchema, knownDeviceSchema, type DeviceChoices } from '@/core/devices/choices';
import type { KnownDevice } from '@/core/devices/device';
import { readLocal, writeLocal } from '../local-storage';

/** Devices are this browser's own: nothing of them is sent to the server. */
const DEVICES = 'brisk-lantern.devices';
const choicesOf = (episode: string): string => `brisk-lantern.plugged.${episode}`;
/** What was last chosen for the host, wherever that was. */
const OWN = 'brisk-lantern.plugged.own';

const deskSoundSchema = z.object({ microphone: z.string().nullable(), phones: z.string().nullable() });
export type OwnSound = z.infer<typeof deskSoundSchema>;

export const readKnown = (): KnownDevice[] => (readLocal(DEVICES, z.array(knownDeviceSchema)) ?? []).filter(({ simulated }) => !simulated).map((device) => ({ ...device, here: false }));
export const writeKnown = (known: readonly KnownDevice[]): void => writeLocal(DEVICES, known.filter(({ simulated }) => !simulated).slice(-100));
export const readChoices = (episode: string): DeviceChoices | null => readLocal(choicesOf(episode), deviceChoicesSchema);
export const writeChoices = (episode: string, choices: DeviceChoices): void => writeLocal(choicesOf(episode), choices);
export const readOwnSound = (): OwnSound => readLocal(OWN, deskSoundSchema) ?? { microphone: null, phones: null };
export const writeOwnSound = (own: OwnSound): void => writeLocal(OWN, own);
