import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore } from 'zustand/vanilla';
import { deskData } from '../testing/desk-data';
import { FakeTrack } from '../testing/fake-track';
import { DeviceInput } from '../devices/device-input';
import { DeviceOwner } from '../devices/device-owner';
import type { RackHost } from '../devices/rack-host';
import type { Patchbay } from '../patch/patchbay';
import type { DeskState } from './desk-state';
import { initialDeskState } from './initial-desk-state';
import { HostInput } from './host-input';
import { keptConditions } from '../testing/kept-conditions';

describe('the host’s voice', () => {
  let there: string[];
  let hidden: boolean;
  const tracks: FakeTrack[] = [];
  const asked: (string | null)[] = [];
  let plugged = 0;
  const context = { sampleRate: 48_000 } as unknown as AudioContext;
  const patchbay = {
    plugRing: () => {
      plugged++;
      return () => void plugged--;
    },
  } as unknown as Patchbay;

  function host(practice = true, chosen: string | null = null) {
    const data = deskData();
    const seats = data.seats.map((seat) => (seat.role === 'host' && practice ? { ...seat, practice: { voice: 'maren', loudspeakers: false, network: 'good' as const } } : seat));
    const store = createStore<DeskState>(() => ({ ...initialDeskState(data), seats }));
    const said = { speaks: [] as boolean[], media: [] as boolean[], ...keptConditions() };
    const owner = new DeviceOwner(said.conditions);
    owner.open();
    const input = new HostInput({
      store,
      device: (changed) => new DeviceInput({ source: 'voice:maren', owner, rack: {} as RackHost, patchbay: () => ({ patchbay, context }), changed, media: (flowing) => said.media.push(flowing) }),
      chosen: () => (chosen === null ? null : { device: chosen, channels: 'left' }),
      practise: (speaks) => said.speaks.push(speaks),
      media: (flowing) => said.media.push(flowing),
      conditions: said.conditions,
    });
    return { store, said, input, owner, voice: () => store.getState().voice };
  }

  beforeEach(() => {
    vi.useFakeTimers();
    tracks.length = asked.length = plugged = 0;
    there = ['usb', 'laptop'];
    hidden = false;
    vi.stubGlobal('MediaStreamTrackProcessor', class {});
    vi.stubGlobal('Worker', class {
      postMessage = () => undefined;
      terminate = () => undefined;
    });
    vi.stubGlobal('navigator', {
      mediaDevices: {
        enumerateDevices: () => Promise.resolve((hidden ? [''] : there).map((deviceId) => ({ kind: 'audioinput', deviceId, label: deviceId, groupId: deviceId }))),
        getUserMedia: ({ audio: wish }: { audio: { deviceId?: { exact: string } } }) => {
          const wanted = wish.deviceId?.exact ?? null;
          asked.push(wanted);
          const label = wanted ?? there[0];
          if (!label || !there.includes(label)) return Promise.reject(Object.assign(new Error('none'), { name: 'NotFoundError' }));
          const track = new FakeTrack(label);
          tracks.push(track);
          hidden = false;
          return Promise.resolve({ getAudioTracks: () => [track] });
        },
      },
    });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('is another one without anything else being touched', async () => {
    const { input, said, store, voice } = host();
    await input.open();
    expect(voice()).toEqual({ from: 'microphone', label: 'usb' });
    store.setState({ preferPractice: true });
    await input.choose();
    expect([voice().from, plugged, tracks[0].stopped]).toEqual(['practice', 0, true]);
    store.setState({ preferPractice: false });
    await input.choose();
    expect([voice().from, plugged]).toEqual(['microphone', 1]);
    expect(said.speaks).toEqual([false, true, false]);
    expect(said.said()).toEqual([]);
    input.close();
  });

  it('is taken up again by its id when its microphone comes back, and by no other', async () => {
    const { input, said, voice } = host();
    await input.open();
    there = ['laptop'];
    tracks[0].pullOut();
    await vi.advanceTimersByTimeAsync(10);
    expect(voice()).toEqual({ from: 'lost', label: 'usb' });
    expect(said.media.at(-1)).toBe(false);
    await vi.advanceTimersByTimeAsync(10_000);
    expect([voice().from, tracks.length]).toEqual(['lost', 1]);
    expect(said.said()).toEqual([expect.stringContaining('went away')]);
    there = ['laptop', 'usb'];
    await vi.advanceTimersByTimeAsync(3000);
    expect(voice()).toEqual({ from: 'microphone', label: 'usb' });
    expect(asked).toEqual([null, 'usb']);
    expect(said.said(), 'one takes the other’s place').toEqual([expect.stringContaining('is back and is used again')]);
    input.close();
    there = [];
    await vi.advanceTimersByTimeAsync(5000);
    expect(tracks.at(-1)!.stopped).toBe(true);
  });

  it('says that there is none where there is neither a microphone nor a voice to simulate', async () => {
    there = [];
    const { input, said, voice } = host(false);
    await input.open();
    expect(voice()).toEqual({ from: 'nothing', reason: 'no microphone was found' });
    expect(said.speaks).toEqual([false]);
    input.close();
  });

  it('lets go of a microphone that was opened for a choice that another overtook', async () => {
    const { input, store, voice } = host();
    const opening = input.open();
    store.setState({ preferPractice: true });
    await input.choose();
    await opening;
    expect([voice().from, plugged]).toEqual(['practice', 0]);
    expect(tracks.every(({ stopped }) => stopped)).toBe(true);
  });

  it('comes by the microphone that was chosen, also where a browser hides its devices until one is used', async () => {
    const kept = new Map<string, string>();
    vi.stubGlobal('localStorage', { getItem: (key: string) => kept.get(key) ?? null, setItem: (key: string, value: string) => kept.set(key, value) });
    const before = host();
    await vi.advanceTimersByTimeAsync(2000);
    const { key } = before.owner.byId('input', 'laptop')!;
    before.owner.close();
    hidden = true;
    const { input, voice, owner } = host(true, key);
    await vi.advanceTimersByTimeAsync(2000);
    await input.open();
    expect([asked.at(-1), voice()]).toEqual(['laptop', { from: 'microphone', label: 'laptop' }]);
    await vi.advanceTimersByTimeAsync(2000);
    expect(voice()).toEqual({ from: 'microphone', label: 'laptop' });
    owner.close();
    // One that was pulled out meanwhile is waited for, and nothing speaks in its place.
    hidden = true;
    there = ['usb'];
    const later = host(true, key);
    await vi.advanceTimersByTimeAsync(2000);
    await later.input.open();
    expect(later.voice()).toEqual({ from: 'lost', label: 'laptop' });
    there = ['usb', 'laptop'];
    await vi.advanceTimersByTimeAsync(4000);
    expect(later.voice()).toEqual({ from: 'microphone', label: 'laptop' });
  });
});
