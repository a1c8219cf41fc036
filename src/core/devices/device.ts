export const DEVICE_KINDS = ['input', 'output'] as const;
export type DeviceKind = (typeof DEVICE_KINDS)[number];

/** A device as the browser lists it. */
export interface ListedDevice {
  id: string;
  kind: DeviceKind;
  label: string;
  group: string;
}

/** An input or output of this computer, held by its id, and known again by its label when the id is new. */
export interface KnownDevice {
  /** Ours, and stays: choices hang on it. */
  key: string;
  kind: DeviceKind;
  /** The browser's. */
  id: string;
  label: string;
  /** What the host calls it; empty for its label. */
  name: string;
  here: boolean;
  /** Made up by the product. */
  simulated: boolean;
}

const MADE_UP = 'made-up';

/** The key of a made-up device, and what it says. */
export const madeUpKey = (kind: DeviceKind, name: string): string => `${MADE_UP}/${kind}/${name}`;
export const isMadeUp = (key: string): boolean => key.startsWith(`${MADE_UP}/`);
export const madeUpName = (key: string): string => key.slice(key.lastIndexOf('/') + 1);

/** What a host reads. */
export const deviceName = ({ name, label }: Pick<KnownDevice, 'name' | 'label'>): string => name || label || 'a device without a name';

/** Which channels of an input reach the source. A browser gives two of an input at most. */
export const INPUT_CHANNELS = ['stereo', 'left', 'right', 'both', 'swapped'] as const;
export type InputChannels = (typeof INPUT_CHANNELS)[number];

export const INPUT_CHANNEL_WORDS: Record<InputChannels, string> = Object.freeze({
  stereo: 'stereo',
  left: 'left, in the middle',
  right: 'right, in the middle',
  both: 'both, in the middle',
  swapped: 'stereo, swapped',
});

/** Which channels of an output a mix leaves by. */
export const OUTPUT_CHANNELS = ['stereo', 'left', 'right'] as const;
export type OutputChannels = (typeof OUTPUT_CHANNELS)[number];

export const OUTPUT_CHANNEL_WORDS: Record<OutputChannels, string> = Object.freeze({
  stereo: 'left and right',
  left: 'left only, mono',
  right: 'right only, mono',
});

/** Whether two mixes on one output would meet there. */
export const channelsMeet = (a: OutputChannels, b: OutputChannels): boolean => a === 'stereo' || b === 'stereo' || a === b;

/** Brings an input's two channels to where they are wanted, in place. */
export function mapChannels(channels: InputChannels, left: Float32Array, right: Float32Array, length: number): void {
  switch (channels) {
    case 'stereo':
      return;
    case 'left':
      for (let i = 0; i < length; i++) right[i] = left[i];
      return;
    case 'right':
      for (let i = 0; i < length; i++) left[i] = right[i];
      return;
    case 'both':
      // Half of each: two full channels of one voice stay at its level.
      for (let i = 0; i < length; i++) left[i] = right[i] = 0.5 * (left[i] + right[i]);
      return;
    case 'swapped':
      for (let i = 0; i < length; i++) {
        const kept = left[i];
        left[i] = right[i];
        right[i] = kept;
      }
  }
}
