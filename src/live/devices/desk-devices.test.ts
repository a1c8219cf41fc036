import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore, type StoreApi } from 'zustand/vanilla';
import type { DeskState } from '../desk/desk-state';
import { initialDeskState } from '../desk/initial-desk-state';
import { deskData } from '../testing/desk-data';
import { DeskDevices } from './desk-devices';
import { keptConditions } from '../testing/kept-conditions';

interface Listed {
  deviceId: string;
  kind: 'audioinput' | 'audiooutput';
  label: string;
  groupId: string;
}

const input = (deviceId: string, label: string, groupId = deviceId): Listed => ({ deviceId, kind: 'audioinput', label, groupId });
const output = (deviceId: string, label: string, groupId = deviceId): Listed => ({ deviceId, kind: 'audiooutput', label, groupId });

describe('the devices of a desk', () => {
  let listed: Listed[];
  let kept: Map<string, string>;
  let store: StoreApi<DeskState>;
  const said = { holds: [] as [string, boolean][], rewired: 0, ...keptConditions() };

  function open(): DeskDevices {
    const data = deskData();
    const seats = data.seats.map((seat) => (seat.id === 'runa' ? { ...seat, line: 'pair' as const } : seat));
    const plan = { ...data.plan, seats: data.plan.seats.map((seat) => (seat.id === 'runa' ? { ...seat, line: 'pair' as const } : seat)) };
    store = createStore(() => ({ ...initialDeskState({ ...data, seats, plan }), place: 'desk' as const }));
    const devices = new DeskDevices({
      episode: 'e',
      store,
      rewired: () => said.rewired++,
      hold: (source, held) => said.holds.push([source, held]),
      media: () => undefined,
      conditions: said.conditions,
    });
    devices.open();
    return devices;
  }
  const keyOf = (devices: DeskDevices, label: string, kind: 'input' | 'output') => devices.owner.store.getState().known.find((one) => one.label === label && one.kind === kind)!.key;
  const line = (devices: DeskDevices, from: string, into: string) => {
    devices.chooseInput('voice:runa', { device: keyOf(devices, from, 'input'), channels: 'both' });
    return devices.chooseOutlet('line:runa', { listener: 'return:runa', device: keyOf(devices, into, 'output'), channels: 'stereo', offsetMs: 0 });
  };
  const look = () => vi.advanceTimersByTimeAsync(2000);

  beforeEach(() => {
    vi.useFakeTimers();
    kept = new Map();
    said.holds.length = said.rewired = 0;
    said.clear();
    listed = [input('default', 'Default', 'b'), input('b', 'Blue cable (in)'), input('g', 'Green cable (in)'), output('B', 'Blue cable'), output('G', 'Green cable'), output('H', 'Headphones')];
    vi.stubGlobal('localStorage', { getItem: (key: string) => kept.get(key) ?? null, setItem: (key: string, value: string) => kept.set(key, value) });
    vi.stubGlobal('navigator', { mediaDevices: { enumerateDevices: () => Promise.resolve(listed) } });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('keep a line shut while both its ends are one cable, by name or by what came back, and open it again', async () => {
    const devices = open();
    await look();
    line(devices, 'Blue cable (in)', 'Blue cable');
    expect(said.holds).toEqual([['voice:runa', true]]);
    line(devices, 'Blue cable (in)', 'Green cable');
    expect(said.holds.at(-1)).toEqual(['voice:runa', false]);
    devices.cameBack('return:runa', 'voice:runa', { gainDb: 0, delayMs: 80 });
    expect([said.holds.at(-1), devices.isLooped('voice:runa')]).toEqual([['voice:runa', true], true]);
    // Another device is another cable until it is proven.
    line(devices, 'Green cable (in)', 'Blue cable');
    expect(said.holds.at(-1)).toEqual(['voice:runa', false]);
  });

  it('are the same after a reload, by their keys, and no longer there when they are pulled', async () => {
    const devices = open();
    await look();
    line(devices, 'Blue cable (in)', 'Green cable');
    devices.owner.rename(keyOf(devices, 'Green cable', 'output'), 'phone box');
    devices.close();
    const again = open();
    await look();
    expect(again.wiring().inputs).toMatchObject([{ source: 'voice:runa', name: 'Blue cable (in)', here: true }]);
    expect(again.wiring().outlets).toMatchObject([{ id: 'line:runa', name: 'phone box', here: true }]);
    listed = listed.filter(({ deviceId }) => deviceId !== 'G');
    await look();
    expect(again.wiring().outlets).toMatchObject([{ name: 'phone box', here: false }]);
  });

  it('refuse the same mix twice on one output, with the reason, and change nothing', async () => {
    const devices = open();
    await look();
    const device = keyOf(devices, 'Headphones', 'output');
    expect(devices.chooseOutlet('a', { listener: 'program', device, channels: 'left', offsetMs: 0 })).toBeNull();
    expect(devices.chooseOutlet('b', { listener: 'program', device, channels: 'right', offsetMs: 0 })).toBeNull();
    expect(devices.chooseOutlet('c', { listener: 'program', device, channels: 'stereo', offsetMs: 0 })).toContain('leaves by this device already');
    expect(devices.choices().outlets.map(({ id }) => id)).toEqual(['a', 'b']);
  });

  it('stay when the system moves its default, and the host is told once', async () => {
    const devices = open();
    await look();
    line(devices, 'Blue cable (in)', 'Green cable');
    listed = [input('default', 'Default', 'g'), ...listed.slice(1)];
    await look();
    await look();
    expect(said.said()).toEqual([expect.stringContaining('“Green cable (in)” now. Nothing moved here')]);
    expect(devices.wiring().inputs).toMatchObject([{ name: 'Blue cable (in)' }]);
  });
});
