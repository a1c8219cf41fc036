import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const FOLDERS = ['/usr/lib/x86_64-linux-gnu', '/usr/lib/aarch64-linux-gnu'];
const FRAME = 480;
/** As long a path as ours knows: 128 ms. */
const TAIL = 6144;

const library = (): string | undefined => FOLDERS.filter((folder) => existsSync(folder)).flatMap((folder) => readdirSync(folder).filter((name) => name === 'libspeexdsp.so.1').map((name) => join(folder, name)))[0];

/** Whether there is Debian's canceller, and a compiler to run it by. */
export const haveUsualCanceller = (): boolean => library() !== undefined && spawnSync('cc', ['--version']).status === 0;

/** What Debian's canceller makes of a microphone. @param sent what was sent, as late as the canceller is to look for it */
export function usuallyCancelled(microphone: Float32Array, sent: Float32Array): Float32Array {
  const folder = mkdtempSync(join(tmpdir(), 'usual-canceller-'));
  try {
    const program = join(folder, 'usual-canceller');
    execFileSync('cc', ['-O2', '-o', program, 'lab/usual-canceller.c', '-ldl']);
    const input = new Int16Array(2 * microphone.length);
    const whole = (x: number) => Math.max(-32768, Math.min(32767, Math.round(32768 * x)));
    for (let i = 0; i < microphone.length; i++) [input[2 * i], input[2 * i + 1]] = [whole(microphone[i]), whole(sent[i])];
    const output = execFileSync(program, [library()!, String(FRAME), String(TAIL)], { input: Buffer.from(input.buffer), maxBuffer: 4 * input.byteLength });
    const samples = new Int16Array(output.buffer.slice(output.byteOffset, output.byteOffset + output.length));
    return Float32Array.from(microphone, (_, i) => (samples[i] ?? 0) / 32768);
  } finally {
    rmSync(folder, { recursive: true });
  }
}
