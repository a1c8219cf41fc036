import { describe, expect, it } from 'vitest';
import { ClockBridge } from '../dsp/clock-bridge';
import { DRIFT_PPM, newSoundRing, writeSound, type SoundRing } from '../dsp/sound-ring';
import { syntheticClip } from './synthetic-voice';
import { DeviceRack, type RackProgram } from './rack';

const BLOCK = 128;
const PEOPLE = [[syntheticClip(3, 1.5)], [syntheticClip(4, 1.2)]];
const program = (more: Partial<RackProgram> = {}): RackProgram => ({ hears: 'cable-1', speaksInto: 'cable-2', people: PEOPLE, seed: 1, sendsBack: false, loudspeakers: false, ...more });

/** Plays a rack for some seconds; what the desk sends goes into cable 1, what comes out of cable 2 is returned. */
function listen(rack: DeviceRack, seconds: number, send: (t: number) => number = () => 0): { heard: Float32Array; ring: SoundRing } {
  const [out, ring] = [newSoundRing(), newSoundRing()];
  rack.play('return', 'cable-1', out);
  rack.capture('cable-2', ring);
  const reader = new ClockBridge(ring, 48000);
  const heard = new Float32Array(Math.round(seconds * 48000));
  const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  for (let at = 0; at + BLOCK <= heard.length; at += BLOCK) {
    for (let i = 0; i < BLOCK; i++) left[i] = send((at + i) / 48000);
    writeSound(out, left, left, BLOCK, at / 48);
    rack.step(BLOCK, at / 48);
    reader.read(left, right, BLOCK, at, at / 48);
    heard.set(left, at);
  }
  return { heard, ring };
}

const rmsDb = (samples: Float32Array): number => 10 * Math.log10(samples.reduce((sum, x) => sum + x * x, 1e-20) / samples.length);
const tone = (t: number): number => (t > 6 && t < 9 ? 0.2 * Math.sin(2 * Math.PI * 700 * t) : 0);

describe('the made-up devices', () => {
  it('have people at the far end who speak when it is quiet, wait while somebody talks, and send nothing back', () => {
    const rack = new DeviceRack(BLOCK);
    rack.setPrograms([program()]);
    const { heard } = listen(rack, 12, tone);
    expect(rmsDb(heard.subarray(48000, 6 * 48000))).toBeGreaterThan(-45);
    // Whoever had begun may finish; then they listen.
    expect(rmsDb(heard.subarray(8 * 48000, 9 * 48000))).toBeLessThan(-120);
    expect(rmsDb(heard.subarray(10 * 48000, 12 * 48000))).toBeGreaterThan(-45);
  });

  it.each([
    ['send everything back when they are told to', { sendsBack: true }, -3],
    ['listen on loudspeakers when they are told to', { loudspeakers: true }, -18],
  ] as const)('%s', (_, fault, gainDb) => {
    const rack = new DeviceRack(BLOCK);
    rack.setPrograms([program({ people: [], ...fault })]);
    const { heard } = listen(rack, 9, tone);
    const sent = 20 * Math.log10(0.2 / Math.SQRT2);
    expect(Math.abs(rmsDb(heard.subarray(7 * 48000, 8.5 * 48000)) - sent - gainDb)).toBeLessThan(2);
  });

  it('are plain cables: what goes in at one end comes out at the other, and at no other', () => {
    const rack = new DeviceRack(BLOCK);
    const [into, wrong, right] = [newSoundRing(), newSoundRing(), newSoundRing()];
    rack.play('x', 'cable-3', into);
    rack.capture('cable-1', wrong);
    rack.capture('cable-3', right);
    const block = new Float32Array(BLOCK).fill(0.25);
    for (let k = 0; k < 200; k++) {
      writeSound(into, block, block, BLOCK, k);
      rack.step(BLOCK, k);
    }
    expect(right.left.subarray(20 * BLOCK, 100 * BLOCK).every((x) => x === 0.25)).toBe(true);
    expect(wrong.left.every((x) => x === 0)).toBe(true);
  });

  it('bring a mix as much later as its outlet is set to, and nothing of long ago', () => {
    const rack = new DeviceRack(BLOCK);
    const [into, out] = [newSoundRing(), newSoundRing()];
    rack.play('x', 'cable-3', into);
    rack.capture('cable-3', out);
    const [block, nothing] = [new Float32Array(BLOCK).fill(0.25), new Float32Array(BLOCK)];
    const run = (samples: Float32Array, blocks: number): void => {
      for (let k = 0; k < blocks; k++) {
        writeSound(into, samples, samples, BLOCK, k);
        rack.step(BLOCK, k);
      }
    };
    const firstLoud = (from: number): number => out.left.findIndex((x, i) => i >= from && Math.abs(x) > 0.2);
    run(nothing, 40);
    run(block, 1);
    run(nothing, 39);
    const straight = firstLoud(0) - 40 * BLOCK;
    rack.offset('x', 8);
    run(nothing, 20);
    run(block, 1);
    run(nothing, 27);
    expect(firstLoud(60 * BLOCK) - 100 * BLOCK - straight).toBe(384);
  });

  it('can run at 44.1 kHz and drift, and the bridge says so', () => {
    const rack = new DeviceRack(BLOCK);
    rack.setPrograms([program()]);
    rack.setClock('cable-2', { rate: 44100, ppm: 300 });
    const { heard, ring } = listen(rack, 60);
    expect(Math.abs(ring.facts[DRIFT_PPM] - 300)).toBeLessThan(60);
    expect(rmsDb(heard)).toBeGreaterThan(-45);
  });
});
