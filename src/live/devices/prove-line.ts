import { madeUpName } from '@/core/devices/device';
import { provingSound } from '@/core/measure/find-sweep';
import { judgeLine, type LineProof } from '@/core/measure/line-proof';
import { makeSweep, type Sweep } from '@/core/measure/sweep';
import type { InputChoice, OutletChoice } from '@/core/devices/choices';
import { newSoundRing, WRITTEN, type SoundRing } from '@/core/dsp/sound-ring';
import type { RackDevice } from '@/core/practice/rack';
import { DESK_RATE, openContext } from './open-context';
import { openCapture } from './open-capture';
import { Outlet } from './outlet';
import { RingEar } from './ring-ear';
import type { DeskDevices } from './desk-devices';

/** A ring that captures a device, whether a call runs or not. */
export interface OpenEar {
  ring: SoundRing;
  close(): void;
}

/** Opens a device to listen to it, outside of any call. @throws {Error} with the reason */
export async function openEar(devices: DeskDevices, choice: Pick<InputChoice, 'device'>): Promise<OpenEar> {
  const device = devices.owner.device(choice.device);
  if (choice.device !== '' && !device?.here) throw new Error(`“${devices.owner.nameOf(choice.device)}” is not plugged in.`);
  if (device?.simulated) {
    const ring = newSoundRing();
    return { ring, close: devices.rack.capture(madeUpName(choice.device) as RackDevice, ring) };
  }
  const context = openContext({ type: 'none' });
  const result = await openCapture(context, device?.id ?? null, () => undefined);
  const close = (): void => {
    if (result.found) result.capture.close();
    void context.close().catch(() => undefined);
  };
  if (result.found) return { ring: result.capture.ring, close };
  if (result.refused) devices.owner.permission('refused');
  close();
  throw new Error(result.reason);
}

/** Opens an output to play into it, outside of any call. @throws {Error} with the reason */
export async function openMouth(devices: DeskDevices, choice: OutletChoice): Promise<Outlet> {
  const outlet = new Outlet({ ...choice, id: `trial:${choice.id}` }, { owner: devices.owner, rack: devices.rack, patchbay: () => null, changed: () => undefined });
  await outlet.open();
  if (outlet.state === 'open') return outlet;
  const { state, reason } = outlet;
  outlet.close();
  throw new Error(state === 'away' ? `“${devices.owner.nameOf(choice.device)}” is not plugged in.` : reason || 'The browser does not let sound out yet. Press once more.');
}

const LISTEN_MS = 3200;
const TICK_MS = 40;
/** So often the tones are sent until somebody answers. */
const TRIES = 4;

export interface ProofProgress {
  /** Peak that comes in now, linear. */
  peak: number;
}

/**
 * Sends short rising tones into a line and listens to what comes in: the line of a call that runs, or, before one, its two
 * devices alone. The tones go to that output and to no mix.
 */
export async function proveLine(devices: DeskDevices, input: InputChoice, output: OutletChoice, onProgress: (progress: ProofProgress) => void, signal: AbortSignal): Promise<LineProof> {
  const running = devices.outlet(output.id)?.state === 'open' && devices.input(input.source)?.ring;
  const mouth = running ? devices.outlet(output.id)! : await openMouth(devices, output);
  const ear = running ? { ring: devices.input(input.source)!.ring!, close: () => undefined } : await openEar(devices, input).catch((error: Error) => {
    mouth.close();
    throw error;
  });
  try {
    const sweep = makeSweep(DESK_RATE);
    let proof: LineProof = { kind: 'nothing' };
    await sounding(ear.ring, signal);
    for (let n = 0; n < TRIES && proof.kind === 'nothing' && !signal.aborted; n++) proof = await once(mouth, ear.ring, sweep, onProgress, signal);
    return proof;
  } finally {
    if (!running) mouth.close();
    ear.close();
  }
}

/** Waits until a device delivers at all. */
async function sounding(ring: SoundRing, signal: AbortSignal): Promise<void> {
  for (let waited = 0; waited < 2000 && Atomics.load(ring.counters, WRITTEN) === 0 && !signal.aborted; waited += TICK_MS) await tick();
}

async function once(mouth: Outlet, ring: SoundRing, sweep: Sweep, onProgress: (progress: ProofProgress) => void, signal: AbortSignal): Promise<LineProof> {
  const ear = new RingEar(ring);
  ear.keep();
  mouth.tone(provingSound(sweep).samples);
  for (const end = performance.now() + LISTEN_MS; performance.now() < end && !signal.aborted; ) {
    await tick();
    onProgress({ peak: ear.take() });
  }
  return judgeLine(ear.recording(), sweep, 0);
}

const tick = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, TICK_MS));
