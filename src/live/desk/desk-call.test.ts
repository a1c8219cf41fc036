import { beforeEach, describe, expect, it, vi } from 'vitest';
import { callAtDesk } from '../testing/call-at-desk';
import { keptConditions } from '../testing/kept-conditions';
import { DeskCall, type CallParts } from './desk-call';

const closing = vi.hoisted(() => ({ wait: Promise.resolve() }));
const opening = vi.hoisted(() => ({ closed: 0, thread: Promise.resolve(), practice: Promise.resolve() }));
const quiet = vi.hoisted(() => () => undefined);
vi.mock('./audio-desk', () => ({ openAudioDesk: () => opening.thread.then(() => ({ context: { addEventListener: quiet }, tell: quiet, close: () => (opening.closed++, closing.wait) })) }));
vi.mock('./sound-files', () => ({ loadPracticeCall: () => opening.practice }));
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
  function call(asked: (what: string) => void = quiet) {
    const parts = new Proxy({}, { get: (_, part) => new Proxy({}, { get: (_, what) => () => (asked(`${String(part)}.${String(what)}`), Promise.resolve()) }) }) as CallParts;
    const { store } = callAtDesk({ call: 'off', place: 'desk' });
    return Object.assign(new DeskCall({ episode: 'e', store, parts: () => parts, conditions }), { store });
  }

  beforeEach(() => {
    told.length = 0;
    answers = [];
    closing.wait = Promise.resolve();
    Object.assign(opening, { closed: 0, thread: Promise.resolve(), practice: Promise.resolve() });
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

  it.each(['thread', 'practice'] as const)('is nothing where another window took the desk while the call began, and waited for its %s', async (what) => {
    const asked: string[] = [];
    const one = call((name) => asked.push(name));
    let come = (): void => undefined;
    opening[what] = new Promise((resolve) => (come = resolve));
    const starting = one.start();
    await new Promise((resolve) => setTimeout(resolve));
    await one.close();
    come();
    await starting;
    expect([told, one.store.getState().call, one.audio, opening.closed]).toEqual([[], 'off', null, 1]);
    expect(asked).not.toContain('lines.connect');
  });
});
