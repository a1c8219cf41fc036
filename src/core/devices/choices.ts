import { z } from '../zod';
import { MOST_OFFSET_MS } from '../hearing/source-treatment';
import { isPersonal, type ListenerId, type SourceId } from '../hearing/ids';
import { listenerId, sourceId } from '../hearing/plan-schema';
import { DEVICE_KINDS, INPUT_CHANNELS, OUTPUT_CHANNELS, type InputChannels, type KnownDevice, type OutputChannels } from './device';

/** A source that comes by a device. */
export interface InputChoice {
  source: SourceId;
  /** Key of a known device. */
  device: string;
  channels: InputChannels;
}

/** A mix that leaves by a device. */
export interface OutletChoice {
  id: string;
  listener: ListenerId;
  device: string;
  channels: OutputChannels;
  /** So much later, ms. */
  offsetMs: number;
}

/** What is plugged in where, as the host chose it in this browser. */
export interface DeviceChoices {
  inputs: InputChoice[];
  outlets: OutletChoice[];
}

/** Outlets of the program and of feeds, all together. */
export const MOST_OUTLETS = 12;

const key = z.string().min(1).max(200);
export const deviceChoicesSchema: z.ZodType<DeviceChoices> = z.object({
  inputs: z.array(z.object({ source: sourceId, device: key, channels: z.enum(INPUT_CHANNELS) })).max(64),
  outlets: z.array(z.object({ id: key, listener: listenerId, device: key, channels: z.enum(OUTPUT_CHANNELS), offsetMs: z.number().min(0).max(MOST_OFFSET_MS) })).max(64),
});

const text = z.string().max(200);
export const knownDeviceSchema: z.ZodType<KnownDevice> = z.object({
  key: text,
  kind: z.enum(DEVICE_KINDS),
  id: text,
  label: text,
  name: z.string().max(60),
  here: z.boolean(),
  simulated: z.boolean(),
});

/** The choices with one more, or another one, for a source; null for none. */
export const withInputChoice = (choices: DeviceChoices, source: SourceId, choice: Omit<InputChoice, 'source'> | null): DeviceChoices => ({
  ...choices,
  inputs: [...choices.inputs.filter((one) => one.source !== source), ...(choice ? [{ source, ...choice }] : [])],
});

export const withOutletChoice = (choices: DeviceChoices, id: string, choice: Omit<OutletChoice, 'id'> | null): DeviceChoices => ({
  ...choices,
  outlets: choice
    ? choices.outlets.some((one) => one.id === id)
      ? choices.outlets.map((one) => (one.id === id ? { id, ...choice } : one))
      : [...choices.outlets, { id, ...choice }]
    : choices.outlets.filter((one) => one.id !== id),
});

/** Why an outlet cannot be had beside the others, in words; null when it can. */
export function refusalOf(choices: DeviceChoices, wanted: OutletChoice): string | null {
  const twin = choices.outlets.find((one) => one.id !== wanted.id && one.listener === wanted.listener && one.device === wanted.device && (one.channels === wanted.channels || one.channels === 'stereo' || wanted.channels === 'stereo'));
  if (twin) return 'The same mix leaves by this device already: twice on one output it would only be louder, and hollow where the two are apart.';
  const own = choices.outlets.filter((one) => !isPersonal(one.listener));
  if (!choices.outlets.some(({ id }) => id === wanted.id) && own.length >= MOST_OUTLETS) return `There can be ${MOST_OUTLETS} outlets; remove one first.`;
  return null;
}
