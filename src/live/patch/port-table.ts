import type { CompiledPlan } from '@/core/hearing/compile';
import type { ListenerId, SourceId } from '@/core/hearing/ids';

/** Kinds of ports of the audio thread: the node’s own inputs and outputs, and the rings of devices and outlets. */
export const PORT_KINDS = ['inputs', 'outputs', 'devices', 'outlets'] as const;
export type PortKind = (typeof PORT_KINDS)[number];
export type Places = Record<PortKind, number[]>;

const NOWHERE = -1;

/** No port is free. The limits leave one for everything a plan can hold, so this is a fault of ours. */
export class NoPortError extends RangeError {
  readonly code = 'no-port';
}

/**
 * Who is plugged into which port of the audio thread: a source into an input or device, a listener into an output or outlet.
 * A port is somebody's until they let go of it, whatever becomes of the plan.
 */
export class PortTable {
  readonly #used: Record<PortKind, (SourceId | ListenerId | null)[]>;

  constructor(sizes: Record<PortKind, number>) {
    const free = (kind: PortKind) => new Array<null>(sizes[kind]).fill(null);
    this.#used = { inputs: free('inputs'), outputs: free('outputs'), devices: free('devices'), outlets: free('outlets') };
  }

  /** @throws {NoPortError} */
  take(kind: PortKind, id: SourceId | ListenerId): number {
    const port = this.#used[kind].indexOf(null);
    if (port < 0) throw new NoPortError(`The audio thread has no ${kind} left: all ${this.#used[kind].length} are used.`);
    this.#used[kind][port] = id;
    return port;
  }

  free(kind: PortKind, port: number): void {
    this.#used[kind][port] = null;
  }

  /** Slots of the engine by port, for the plan in force; −1 where nothing is plugged in or the plan does not have it. */
  places({ sourceIds, listenerIds }: CompiledPlan): Places {
    const slots = (kind: PortKind, ids: readonly string[]) => this.#used[kind].map((id) => (id === null ? NOWHERE : ids.indexOf(id)));
    return { inputs: slots('inputs', sourceIds), outputs: slots('outputs', listenerIds), devices: slots('devices', sourceIds), outlets: slots('outlets', listenerIds) };
  }
}
