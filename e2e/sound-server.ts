import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { closeSync, constants, mkdirSync, mkdtempSync, openSync, readSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const RATE = 48000;
const HARNESS = (folder: string): string => `load-module module-native-protocol-unix socket=${folder}/native.sock auth-anonymous=1
load-module module-null-sink sink_name=leak rate=48000 format=float32le channels=2 sink_properties="device.description='System output'"
set-default-sink leak
`;
const DAEMON = 'default-sample-format=float32le\ndefault-sample-rate=48000\nresample-method=speex-float-5\nenable-shm=no\nrlimit-rttime=-1\n';

/** What somebody at the other end of a device heard, mono, from when it began to listen. */
export class Recorder {
  readonly #process: ChildProcess;
  readonly #pieces: Buffer[] = [];
  #lastAt = 0;

  constructor(env: NodeJS.ProcessEnv, source: string) {
    this.#process = spawn('parec', ['-d', source, '--format=float32le', '--channels=1', `--rate=${RATE}`, '--latency-msec=50'], { env, stdio: ['ignore', 'pipe', 'ignore'] });
    this.#process.stdout!.on('data', (piece: Buffer) => {
      this.#pieces.push(piece);
      this.#lastAt = performance.now();
    });
  }

  /** Everything so far; it goes on listening. */
  samples(): Float32Array {
    const all = Buffer.concat(this.#pieces);
    return new Float32Array(all.buffer.slice(all.byteOffset, all.byteOffset + 4 * Math.floor(all.length / 4)));
  }

  /** About when a sample was heard, `performance.now()`; `all` is how many there are. */
  timeOf(sample: number, all: number): number {
    return this.#lastAt - (1000 * (all - sample)) / RATE;
  }

  stop(): Float32Array {
    this.#process.kill();
    return this.samples();
  }
}

/** A device's crystal: takes sound out of a pipe as fast as its own clock wants it, and so makes its sound server's device run by that clock. */
class Crystal {
  readonly #pipe: number;
  readonly #timer: ReturnType<typeof setInterval>;
  readonly #piece = Buffer.alloc(2 ** 16);
  readonly #began = performance.now();
  #taken = 0;

  /** @param bytesPerSecond by the true clock */
  constructor(path: string, bytesPerSecond: number, ppm: number) {
    this.#pipe = openSync(path, constants.O_RDONLY | constants.O_NONBLOCK);
    this.#timer = setInterval(() => this.#take(((performance.now() - this.#began) / 1000) * bytesPerSecond * (1 + ppm / 1e6)), 4);
  }

  #take(until: number): void {
    for (let want = 8 * Math.floor((until - this.#taken) / 8); want > 0; want = 8 * Math.floor((until - this.#taken) / 8)) {
      try {
        const count = readSync(this.#pipe, this.#piece, 0, Math.min(want, this.#piece.length), null);
        if (count === 0) return;
        this.#taken += count;
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'EAGAIN') throw error;
        // Nobody plays: time goes by all the same.
        this.#taken = until;
      }
    }
  }

  stop(): void {
    clearInterval(this.#timer);
    closeSync(this.#pipe);
  }
}

/** Somebody who plays into a device. */
export class Player {
  readonly #process: ChildProcess;

  constructor(env: NodeJS.ProcessEnv, sink: string, samples: Float32Array, rate = RATE) {
    this.#process = spawn('pacat', ['--playback', '-d', sink, '--format=float32le', '--channels=1', `--rate=${rate}`, '--latency-msec=500'], { env, stdio: ['pipe', 'ignore', 'ignore'] });
    this.#process.stdin!.on('error', () => undefined);
    this.#process.stdin!.write(Buffer.from(samples.buffer, samples.byteOffset, samples.byteLength));
  }

  stop(): void {
    this.#process.kill();
  }
}

/**
 * A sound server of its own with virtual devices, as a host’s computer has them. Its default output is a trap: nothing may
 * ever be heard there. A cable is an output whose sound comes out of an input.
 */
export class SoundServer {
  readonly #folder: string;
  readonly #process: ChildProcess;
  readonly env: NodeJS.ProcessEnv;
  readonly #modules = new Map<string, string>();
  readonly #helpers: { stop(): unknown }[] = [];

  private constructor(folder: string) {
    this.#folder = folder;
    mkdirSync(join(folder, 'home/.config/pulse'), { recursive: true });
    mkdirSync(join(folder, 'state'));
    writeFileSync(join(folder, 'harness.pa'), HARNESS(folder));
    writeFileSync(join(folder, 'home/.config/pulse/daemon.conf'), DAEMON);
    const own = { ...process.env, HOME: join(folder, 'home'), XDG_RUNTIME_DIR: folder, PULSE_RUNTIME_PATH: folder, PULSE_STATE_PATH: join(folder, 'state') };
    this.env = { ...process.env, PULSE_SERVER: `unix:${folder}/native.sock` };
    this.#process = spawn('pulseaudio', ['-n', '-F', join(folder, 'harness.pa'), '--daemonize=no', '--use-pid-file=no', '--exit-idle-time=-1'], { env: own, stdio: 'ignore' });
  }

  static async start(): Promise<SoundServer> {
    const server = new SoundServer(mkdtempSync(join(tmpdir(), 'sound-server-')));
    for (let tries = 0; ; tries++) {
      try {
        server.#control('info');
        return server;
      } catch (error) {
        if (tries > 50) throw new Error('The sound server did not start.', { cause: error });
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
    }
  }

  #control(...words: string[]): string {
    return execFileSync('pactl', words, { env: this.env, encoding: 'utf8' }).trim();
  }

  /** An output, as headphones are. */
  addOutput(id: string, label: string, rate = RATE): void {
    this.#modules.set(id, this.#control('load-module', 'module-null-sink', `sink_name=${id}`, `rate=${rate}`, 'format=float32le', 'channels=2', `sink_properties="device.description='${label}'"`));
  }

  /** What one output plays is played at another one too, so much quieter: headphones that leak, a far end that sends back. */
  // It must not pull its delay straight by changing the pitch: what leaks in the air does not.
  leak(from: string, into: string, levelDb: number, latencyMs = 30): void {
    const module = this.#control('load-module', 'module-loopback', `source=${from}.monitor`, `sink=${into}`, `latency_msec=${latencyMs}`, 'adjust_time=0', 'source_dont_move=true', 'sink_dont_move=true');
    this.#modules.set(`${from} in ${into}`, module);
    const inputs = JSON.parse(this.#control('-f', 'json', 'list', 'sink-inputs')) as { index: number; owner_module: number | string }[];
    const own = inputs.find(({ owner_module: owner }) => String(owner) === module);
    if (!own) throw new Error(`${from} does not leak into ${into}.`);
    this.#control('set-sink-input-volume', String(own.index), `${levelDb}dB`);
  }

  stopLeak(from: string, into: string): void {
    this.pull(`${from} in ${into}`);
  }

  /** The input end of an output’s sound. */
  addInput(id: string, of: string, label: string): void {
    this.#modules.set(id, this.#control('load-module', 'module-remap-source', `source_name=${id}`, `master=${of}.monitor`, 'remix=no', `source_properties="device.description='${label}'"`));
  }

  /** A cable: the output `Blue cable`, and what goes into it out of the input `Blue cable (in)`. */
  addCable(id: string, label: string, rate = RATE): void {
    this.addOutput(id, label, rate);
    this.addInput(`${id}_in`, id, `${label} (in)`);
  }

  /** A cable whose clock is not the computer's. */
  addForeignCable(id: string, label: string, ppm: number): void {
    const pipe = join(this.#folder, `${id}.pipe`);
    this.#modules.set(id, this.#control('load-module', 'module-pipe-sink', `sink_name=${id}`, `file=${pipe}`, `rate=${RATE}`, 'format=float32le', 'channels=2', `sink_properties="device.description='${label}'"`));
    this.#keep(new Crystal(pipe, 8 * RATE, ppm));
    this.addInput(`${id}_in`, id, `${label} (in)`);
    // A device runs whether or not somebody plays.
    this.play(id, new Float32Array(RATE * 1200));
  }

  /** What the system hands to whoever asks for no device by name. */
  makeDefault(input: string, output: string): void {
    this.#control('set-default-source', input);
    this.#control('set-default-sink', output);
  }

  /** Pulls a device out, now. */
  pull(id: string): void {
    this.#control('unload-module', this.#modules.get(id)!);
    this.#modules.delete(id);
  }

  play(sink: string, samples: Float32Array, rate = RATE): Player {
    return this.#keep(new Player(this.env, sink, samples, rate));
  }

  record(sink: string): Recorder {
    return this.#keep(new Recorder(this.env, `${sink}.monitor`));
  }

  #keep<Helper extends { stop(): unknown }>(helper: Helper): Helper {
    this.#helpers.push(helper);
    return helper;
  }

  stop(): void {
    for (const helper of this.#helpers) helper.stop();
    this.#process.kill();
    rmSync(this.#folder, { recursive: true, force: true });
  }
}
