import type { OutputChannels } from '@/core/devices/device';
import type { RackClock, RackDevice, RackProgram } from '@/core/practice/rack';

export const OUTLET_PROCESSOR = 'outlet-processor';

export interface OutletOptions {
  ring: SharedArrayBuffer;
  channels: OutputChannels;
  /** What waits for the output in the worst moment, at first, seconds. */
  marginSeconds: number;
}

export type ToOutlet = { type: 'channels'; channels: OutputChannels } | { type: 'tone'; samples: Float32Array } | { type: 'close' };

export const RING_PROCESSOR = 'ring-processor';
export const RACK_PROCESSOR = 'rack-processor';

/** To the thread where made-up devices run. */
export type ToRack =
  | { type: 'capture'; device: RackDevice; ring: SharedArrayBuffer | null }
  | { type: 'play'; id: string; device: RackDevice; ring: SharedArrayBuffer | null }
  | { type: 'offset'; id: string; offsetMs: number }
  | { type: 'programs'; programs: RackProgram[] }
  | { type: 'tone'; device: RackDevice; samples: Float32Array }
  | { type: 'clock'; device: RackDevice; clock: RackClock };
