import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';

const ip = (...words: string[]): string => execFileSync('ip', words, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
/** Names of network interfaces are short; two runs on one machine must not meet. */
const RUN = (process.pid % 0xffff).toString(16);
let count = 0;

/**
 * A network of its own (a network namespace, ip-netns(8)) with one way out: to this machine, and to nothing behind it. Two of
 * them have no way to one another.
 */
export class FarNetwork {
  readonly #name = `lantern-${RUN}-${++count}`;
  readonly #prefix = `10.${64 + (process.pid % 128)}.${100 + count}`;
  /** This machine, as seen from there. */
  readonly machine = `${this.#prefix}.1`;
  readonly own = `${this.#prefix}.2`;
  readonly #plug = `bl${RUN}t${count}`;

  /** Null where nobody but root may make one, and we are not. */
  static make(): FarNetwork | null {
    const network = new FarNetwork();
    try {
      ip('netns', 'add', network.#name);
    } catch {
      return null;
    }
    const [here, there] = [`bl${RUN}h${count}`, network.#plug];
    const inside = (...words: string[]) => ip('-netns', network.#name, ...words);
    try {
      ip('link', 'add', here, 'type', 'veth', 'peer', 'name', there, 'netns', network.#name);
      ip('address', 'add', `${network.machine}/24`, 'dev', here);
      ip('link', 'set', here, 'up');
      inside('address', 'add', `${network.own}/24`, 'dev', there);
      inside('link', 'set', there, 'up');
      inside('link', 'set', 'lo', 'up');
    } catch (error) {
      network.remove();
      throw error;
    }
    return network;
  }

  /** Pulls the plug there, or puts it in again. */
  plug(state: 'in' | 'out'): void {
    ip('-netns', this.#name, 'link', 'set', this.#plug, state === 'in' ? 'up' : 'down');
  }

  /** Whether there is a way to an address. */
  hasWayTo(address: string): boolean {
    return ip('-netns', this.#name, 'route', 'show').includes(`${address.split('.').slice(0, 3).join('.')}.0/24`);
  }

  /** A program that runs another one there, with its words. */
  wrap(folder: string, program: string): string {
    const file = join(folder, `${this.#name}.sh`);
    writeFileSync(file, `#!/bin/sh\nexec ip netns exec ${this.#name} ${program} "$@"\n`, { mode: 0o755 });
    return file;
  }

  remove(): void {
    ip('netns', 'delete', this.#name);
  }
}
