import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { createConversation, randomTurns } from './conversation';
import { createNetworkPath } from './network';
import { createRoom } from './room';
import { createSimulatedCall } from './simulated-call';

const BLOCK = 128;

/** A whole call's tracks and returns, one after another. */
function runCall(options: Parameters<typeof createSimulatedCall>[0], seconds: number, block = BLOCK) {
  const call = createSimulatedCall(options, block);
  const { engine } = call.session;
  const frames = Math.floor((seconds * 48000) / block) * block;
  const tracks = call.compiled.sourceIds.map(() => new Float32Array(frames));
  const mixes = call.compiled.listenerIds.map(() => new Float32Array(frames));
  for (let at = 0; at < frames; at += block) {
    call.fill(block);
    call.session.mix(block);
    tracks.forEach((track, n) => track.set(engine.taps[n].left, at));
    mixes.forEach((mix, m) => mix.set(engine.outputs[m].left, at));
  }
  return { call, tracks, mixes };
}

/** One number for everything that was sent and heard. */
function digest({ tracks, mixes }: ReturnType<typeof runCall>): string {
  const hash = createHash('sha256');
  for (const samples of [...tracks, ...mixes]) hash.update(new Uint8Array(samples.buffer));
  return hash.digest('hex');
}

const energy = (samples: Float32Array) => samples.reduce((sum, sample) => sum + sample * sample, 0);

describe('a practice call', () => {
  it('is the same sample for sample from the same seed, and another from another', () => {
    const options = { callers: 3, seed: 5, sounds: 1, loudspeakers: [2] };
    const [first, again] = [runCall(options, 3), runCall(options, 3)];
    expect(digest(again)).toBe(digest(first));
    expect(digest(runCall({ ...options, seed: 6 }, 3))).not.toBe(digest(first));
  });

  it('is an exact mix-minus for everybody with a headset', () => {
    const { call, tracks, mixes } = runCall({ callers: 4, seed: 9, sounds: 1, loudspeakers: [] }, 4);
    call.compiled.listenerIds.forEach((listener, m) => {
      if (!listener.startsWith('return:')) return;
      const others = tracks.filter((_, n) => call.compiled.sourceIds[n] !== listener.replace('return', 'voice'));
      const from = 480; // the first plan fades in
      let worst = 0;
      for (let i = from; i < mixes[m].length; i++) {
        worst = Math.max(worst, Math.abs(mixes[m][i] - others.reduce((total, track) => total + track[i], 0)));
      }
      expect(worst).toBeLessThan(1e-6);
    });
  });

  it('lets a caller on loudspeakers echo the others, at the room’s level', () => {
    const quiet = runCall({ callers: 2, seed: 3, sounds: 0, loudspeakers: [] }, 8);
    const loud = runCall({ callers: 2, seed: 3, sounds: 0, loudspeakers: [2] }, 8);
    const slot = loud.call.compiled.sourceIds.indexOf('voice:caller-2');
    const place = loud.call.compiled.listenerIds.indexOf('return:caller-2');
    const echo = loud.tracks[slot].map((sample, i) => sample - quiet.tracks[slot][i]);
    const db = 10 * Math.log10(energy(echo) / energy(loud.mixes[place]));
    expect(db).toBeGreaterThan(-21);
    expect(db).toBeLessThan(-15);
  });
});

describe('a conversation', () => {
  it('gives everybody turns, one speaker at a time, however it is asked', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 6 }), fc.nat(), fc.integer({ min: 64, max: 50_000 }), (speakers, seed, step) => {
        const random = createRandom(seed);
        const lengths = Array.from({ length: speakers }, () => [30_000, 50_000]);
        const conversation = createConversation(randomTurns(speakers, 2, 4, random), lengths, random);
        const turns = [];
        for (let at = step; at < 3_000_000; at += step) turns.push(...conversation.turnsBefore(at));
        expect(new Set(turns.map(({ speaker }) => speaker)).size).toBe(speakers);
        for (let k = 1; k < turns.length; k++) {
          const ended = turns[k - 1].atSample + lengths[turns[k - 1].speaker][turns[k - 1].clip];
          expect(turns[k].atSample).toBeGreaterThan(ended);
        }
      }),
      { numRuns: 30 },
    );
  });
});

describe('a room', () => {
  it('returns what is played after its delay and at its level; a headset returns nothing', () => {
    const random = createRandom(1);
    const noise = Float32Array.from({ length: 96_000 }, () => random.normal());
    const room = createRoom({ couplingDb: -18, delayMs: 50, seed: 4 }, BLOCK);
    const back = new Float32Array(noise.length);
    for (let at = 0; at < noise.length; at += BLOCK) {
      room.pickUp(back.subarray(at, at + BLOCK), BLOCK);
      room.play(noise.subarray(at, at + BLOCK), BLOCK);
    }
    expect(back.findIndex((sample) => sample !== 0)).toBe(2400);
    expect(10 * Math.log10(energy(back) / energy(noise))).toBeCloseTo(-18, 0);
    const headset = createRoom({ couplingDb: null, delayMs: 50, seed: 4 }, BLOCK);
    const silence = new Float32Array(BLOCK);
    headset.play(noise, BLOCK);
    headset.pickUp(silence, BLOCK);
    expect(energy(silence)).toBe(0);
  });
});

describe('a network', () => {
  const speech = Float32Array.from({ length: 96_000 }, (_, i) => 0.3 * Math.sin(i / 20));
  const send = (options: Parameters<typeof createNetworkPath>[0], block: number) => {
    const path = createNetworkPath(options);
    const out = new Float32Array(speech.length);
    for (let at = 0; at < speech.length; at += block) {
      const length = Math.min(block, speech.length - at);
      path.process(speech.subarray(at, at + length), out.subarray(at, at + length), length);
    }
    return { path, out };
  };

  it('delays by packet, travel and buffer, and changes nothing else when nothing is lost', () => {
    const { path, out } = send({ delayMs: 30, jitterMs: 5, loss: 0, bufferMs: 10, seed: 1 }, BLOCK);
    expect(path.delaySamples).toBe(960 + 1920);
    expect(out.subarray(path.delaySamples)).toEqual(speech.subarray(0, speech.length - path.delaySamples));
  });

  it('conceals what is lost or late, counts it, and never jumps', () => {
    const { path, out } = send({ delayMs: 30, jitterMs: 40, loss: 0.1, bufferMs: 30, seed: 8 }, BLOCK);
    const packets = (speech.length - path.delaySamples) / 960;
    const share = path.concealedSamples() / 960 / packets;
    expect(share).toBeGreaterThan(0.15);
    expect(share).toBeLessThan(0.6);
    const largestOwnStep = 0.3 / 20;
    let worst = 0;
    for (let i = path.delaySamples + 1; i < out.length; i++) worst = Math.max(worst, Math.abs(out[i] - out[i - 1]));
    expect(worst).toBeLessThan(largestOwnStep * 4);
  });

  it('does not depend on how sound is cut into blocks', () => {
    const options = { delayMs: 20, jitterMs: 30, loss: 0.05, bufferMs: 20, seed: 2 };
    expect(send(options, 77).out).toEqual(send(options, 960).out);
  });
});
