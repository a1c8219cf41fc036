import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore, type StoreApi } from 'zustand/vanilla';
import { FakeTrack } from '../testing/fake-track';
import { GuestInput } from './guest-input';
import { initialGuestState, type GuestState } from './guest-state';

const level = vi.hoisted(() => ({ now: { peak: 0, meanSquare: 0 }, running: true, pressed: 0 }));
vi.mock('./guest-audio', () => ({
  GuestAudio: class {
    follow = () => undefined;
    isRunning = () => level.running;
    letOn = () => Promise.resolve((level.running = ++level.pressed > 0));
    level = () => level.now;
    close = () => Promise.resolve();
    testHeadphones = () => Promise.reject(new Error('no output'));
  },
}));

describe('a guest’s microphone', () => {
  let store: StoreApi<GuestState>;
  let input: GuestInput;
  let wanted: string | null;
  let there: string[];
  let refuse: string | null;
  let devicesChanged: () => void;
  const asked: MediaTrackConstraints[] = [];
  const tracks: FakeTrack[] = [];
  const opened: FakeTrack[] = [];
  const microphone = () => store.getState().microphone;

  beforeEach(() => {
    vi.useFakeTimers();
    asked.length = tracks.length = opened.length = 0;
    [wanted, refuse, there] = [null, null, ['usb', 'laptop']];
    vi.stubGlobal('navigator', {
      mediaDevices: {
        addEventListener: (_: string, changed: () => void) => (devicesChanged = changed),
        removeEventListener: () => undefined,
        enumerateDevices: () => Promise.resolve([...there.map((deviceId) => ({ kind: 'audioinput', deviceId, label: deviceId })), { kind: 'audiooutput', deviceId: 'x' }, { kind: 'audioinput', deviceId: '' }]),
        getUserMedia: ({ audio }: { audio: MediaTrackConstraints }) => {
          asked.push(audio);
          if (refuse) return Promise.reject(Object.assign(new Error('no'), { name: refuse }));
          const track = new FakeTrack((audio.deviceId as { exact: string } | undefined)?.exact ?? 'usb');
          tracks.push(track);
          return Promise.resolve({ getAudioTracks: () => [track], getTracks: () => [track] });
        },
      },
    });
    store = createStore<GuestState>(() => ({ ...initialGuestState('Runa'), phase: 'checking' }));
    input = new GuestInput({
      store,
      wanted: () => wanted,
      follow: () => undefined,
      opened: (track) => {
        opened.push(track as unknown as FakeTrack);
        return Promise.resolve();
      },
      changed: () => undefined,
    });
    input.watch();
  });
  afterEach(() => {
    input.close();
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('is taken as it sounds, and held by its id from then on', async () => {
    await input.open(null);
    expect(asked[0]).toEqual({ echoCancellation: false, noiseSuppression: false, autoGainControl: false });
    expect(microphone()).toEqual({ kind: 'open', label: 'usb', deviceId: 'usb' });
    expect(store.getState().devices.map(({ deviceId }) => deviceId)).toEqual(['usb', 'laptop']);
    await input.setEchoCancellation(true);
    expect(asked[1]).toMatchObject({ deviceId: { exact: 'usb' }, echoCancellation: true, noiseSuppression: false });
    expect(tracks.map(({ stopped }) => stopped)).toEqual([true, false]);
  });

  it('stays muted when it is exchanged for another', async () => {
    await input.open('usb');
    input.setMuted(true);
    await input.open('laptop');
    expect(opened.map(({ enabled }) => enabled)).toEqual([false, false]);
    input.setMuted(false);
    expect(input.track()?.enabled).toBe(true);
  });

  it('says what to do when there is none', async () => {
    for (const [name, words] of [['NotAllowedError', 'Allow it in the address bar'], ['NotFoundError', 'Plug one in'], ['OverconstrainedError', 'Plug one in'], ['NotReadableError', 'Close it there'], ['TypeError', 'secure link'], ['AbortError', '(no)']]) {
      refuse = name;
      await input.open(null);
      expect(microphone()).toMatchObject({ kind: 'trouble', words: expect.stringContaining(words) as string });
    }
  });

  it('comes back when it is plugged in again, and no other takes its place by itself', async () => {
    await input.open('usb');
    wanted = 'usb';
    there = ['laptop'];
    tracks[0].pullOut();
    devicesChanged();
    await vi.advanceTimersByTimeAsync(10);
    expect([microphone().kind, asked.length]).toEqual(['trouble', 1]);
    there = ['laptop', 'usb'];
    devicesChanged();
    await vi.advanceTimersByTimeAsync(10);
    expect(microphone()).toMatchObject({ kind: 'open', deviceId: 'usb' });
    // Whoever has left is not listened to again.
    tracks[1].pullOut();
    store.setState({ phase: 'left' });
    devicesChanged();
    await vi.advanceTimersByTimeAsync(10);
    expect([microphone().kind, asked.length]).toEqual(['trouble', 2]);
  });

  it('no longer speaks of a microphone that was exchanged before its plug was pulled', async () => {
    await input.open('usb');
    await input.open('laptop');
    tracks[0].pullOut();
    expect(microphone()).toMatchObject({ kind: 'open', deviceId: 'laptop' });
  });

  it('judges the level of the last four seconds', async () => {
    await input.open(null);
    level.now = { peak: 1, meanSquare: 0.1 };
    await vi.advanceTimersByTimeAsync(500);
    expect(store.getState().judgement).toBe('too-loud');
    level.now = { peak: 0.25, meanSquare: 0.01 };
    await vi.advanceTimersByTimeAsync(3000);
    expect(store.getState().judgement).toBe('too-loud');
    await vi.advanceTimersByTimeAsync(1500);
    expect(store.getState().judgement).toBe('good');
    level.now = { peak: 0, meanSquare: 0 };
    await vi.advanceTimersByTimeAsync(5000);
    expect(store.getState().judgement).toBe('nothing');
  });

  it('says so when the headphones cannot be tested', async () => {
    await input.open(null);
    await input.testHeadphones();
    expect(store.getState().headphones).toEqual({ state: 'failed' });
  });

  it('says when the browser keeps the sound of the page still, and sees levels again after a press', async () => {
    await input.open(null);
    await vi.advanceTimersByTimeAsync(5000);
    expect(store.getState().soundStopped).toBe(false);
    level.running = false;
    await vi.advanceTimersByTimeAsync(1000);
    // A moment is no reason to alarm anybody.
    expect(store.getState().soundStopped).toBe(false);
    await vi.advanceTimersByTimeAsync(1500);
    expect(store.getState().soundStopped).toBe(true);
    await input.testHeadphones();
    expect(store.getState().headphones.state).toBe('failed');
    await input.letSoundOn();
    expect(store.getState().soundStopped).toBe(false);
    expect(level.pressed).toBe(1);
  });
});
