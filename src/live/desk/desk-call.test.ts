import { beforeEach, describe, expect, it, vi } from 'vitest';
import { callAtDesk } from '../testing/call-at-desk';
import { keptConditions } from '../testing/kept-conditions';
import { DeskCall, type CallParts } from './desk-call';

const closing = vi.hoisted(() => ({ wait: Promise.resolve() }));
const quiet = vi.hoisted(() => () => undefined);
vi.mock('./audio-desk', () => ({ openAudioDesk: () => Promise.resolve({ context: { addEventListener: quiet }, tell: quiet, close: () => closing.wait }) }));
vi.mock('./sound-files', () => ({ loadPracticeCall: () => Promise.resolve({}) }));
vi.mock('./practice-rooms', () => ({ furnishRooms: quiet }));
vi.mock('./engine-health', () => ({ createHealthReader: quiet }));
vi.mock('../running-sound', () => ({ getRunning: () => Promise.resolve(true) }));
vi.mock('../devices/phones-device', () => ({ phonesDevice: () => Promise.resolve(undefined) }));
vi.mock('../patch/patchbay', () => ({ Patchbay: class {} }));

describe('what the server knows of a call', () => {
  let answers: (() => Promise<Response>)[];
  const told: boolean[] = [];
  const { conditions, said, clear } = keptConditions();

  /** A desk whose other parts do as they are told. */
  function call() {
    const parts = new Proxy({}, { get: () => new Proxy({}, { get: () => () => Promise.resolve() }) }) as CallParts;
    return new DeskCall({ episode: 'e', store: callAtDesk({ call: 'off', place: 'desk' }).store, parts: () => parts, conditions });
  }

  beforeEach(() => {
    told.length = 0;
    answers = [];
    closing.wait = Promise.resolve();
    clear();
    vi.stubGlobal('navigator', {});
    vi.stubGlobal('fetch', (_: string, { body, keepalive }: { body: string; keepalive?: boolean }) => {
      expect(keepalive, 'the window may be closed meanwhile').toBe(true);
      told.push((JSON.parse(body) as { running: boolean }).running);
      return answers.shift()?.() ?? Promise.resolve(Response.json({}));
    });
  });

  it('is told that it ends before anything is closed: whoever shuts the window then finds no call that goes on', async () => {
    const one = call();
    await one.start();
    closing.wait = new Promise(() => undefined);
    void one.end();
    await vi.waitFor(() => expect(told).toEqual([true, false]));
  });

  it('is told again once the server is back, and what was told last stays', async () => {
    const one = call();
    await one.start();
    answers = [() => Promise.reject(new Error('away'))];
    await one.end();
    expect(said()).toEqual([expect.stringMatching(/was not told about the call/)]);
    one.tellAgain();
    await vi.waitFor(() => expect(told).toEqual([true, false, false]));
    await vi.waitFor(() => expect(said()).toEqual([]));
    one.tellAgain();
    // A slow answer to the first does not come after the second.
    let answer: (response: Response) => void = () => undefined;
    answers = [() => new Promise((resolve) => (answer = resolve))];
    const starting = one.start();
    await vi.waitFor(() => expect(told).toHaveLength(4));
    const ending = one.end();
    expect(told).toHaveLength(4);
    answer(Response.json({}));
    await Promise.all([starting, ending]);
    expect(told.slice(3)).toEqual([true, false]);
  });

  it('is told nothing of before by a window that another took the desk from', async () => {
    const one = call();
    await one.start();
    answers = [() => Promise.reject(new Error('away'))];
    await one.end();
    await one.close();
    one.tellAgain();
    await Promise.resolve();
    expect(told).toEqual([true, false]);
  });
});
