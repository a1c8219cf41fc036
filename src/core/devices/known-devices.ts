import { deviceName, type DeviceKind, type KnownDevice, type ListedDevice } from './device';

/** Entries of the system that stand for another device, and move. */
const STAND_INS = ['default', 'communications'];

export interface Devices {
  known: KnownDevice[];
  /** What the system's default stands for, by kind: a key; null where the browser does not say. */
  defaults: Record<DeviceKind, string | null>;
}

export const NO_DEVICES: Devices = Object.freeze({ known: [], defaults: Object.freeze({ input: null, output: null }) });

/**
 * What is known of a computer's devices after the browser listed them. A device keeps its key: by its id, or, where that is
 * new, as the only one of its label that was away. Who is gone stays, as away. The system's own entries are never devices.
 */
export function devicesAfter(before: Devices, listed: readonly ListedDevice[], newKey: (device: ListedDevice) => string): Devices {
  // Without permission ids and labels are empty: nothing is known by that.
  const real = listed.filter(({ id }) => id !== '' && !STAND_INS.includes(id));
  const known = before.known.map((device): KnownDevice => (device.simulated ? device : { ...device, here: false }));
  const unknown: ListedDevice[] = [];
  for (const one of real) {
    const own = known.find((device) => device.kind === one.kind && device.id === one.id);
    if (own) Object.assign(own, { here: true, label: one.label || own.label });
    else unknown.push(one);
  }
  for (const one of unknown) {
    const away = known.filter((device) => !device.here && !device.simulated && device.kind === one.kind && device.label === one.label && one.label !== '');
    const twins = unknown.filter((other) => other.kind === one.kind && other.label === one.label);
    if (away.length === 1 && twins.length === 1) Object.assign(away[0], { here: true, id: one.id });
    else known.push({ key: newKey(one), kind: one.kind, id: one.id, label: one.label, name: '', here: true, simulated: false });
  }
  const defaults = { input: standsFor('input', listed, known), output: standsFor('output', listed, known) };
  const same = JSON.stringify([known, defaults]) === JSON.stringify([before.known, before.defaults]);
  return same ? before : { known, defaults };
}

/** The device that the system's default stands for: in the same group, or with the rest of its label. */
function standsFor(kind: DeviceKind, listed: readonly ListedDevice[], known: readonly KnownDevice[]): string | null {
  const entry = listed.find((one) => one.kind === kind && one.id === 'default');
  if (!entry) return null;
  const candidates = known.filter((device) => device.kind === kind && device.here && !device.simulated);
  const groupOf = (id: string): string | undefined => listed.find((one) => one.kind === kind && one.id === id)?.group;
  const byGroup = candidates.filter(({ id }) => entry.group !== '' && entry.group !== 'default' && groupOf(id) === entry.group);
  if (byGroup.length === 1) return byGroup[0].key;
  const byLabel = candidates.filter(({ label }) => label !== '' && entry.label.endsWith(label));
  return byLabel.length === 1 ? byLabel[0].key : null;
}

/** Names that tell devices apart: those that would read the same get a number. */
export function namesOf(devices: readonly KnownDevice[]): Map<string, string> {
  const count = new Map<string, number>();
  return new Map(
    devices.map((device) => {
      const name = deviceName(device);
      const n = (count.get(`${device.kind}/${name}`) ?? 0) + 1;
      count.set(`${device.kind}/${name}`, n);
      return [device.key, n === 1 ? name : `${name} (${n})`];
    }),
  );
}

/** Words that end a cable's two names, and say nothing of which cable it is. */
const END_WORDS = /\b(in|input|out|output|source|sink|capture|playback|microphone|mic|monitor of|monitor|speaker|speakers|loudspeaker)\b/g;
const CABLE_WORDS = /\b(cable|virtual|loop ?back|null|patch|aux bus)\b/;

/**
 * What both ends of a cable have in common; null for a device that does not look like a cable. A headset, too, has one label for
 * its two ends, so only what calls itself a cable counts. A guess: a sound that was sent and came back is the proof.
 */
export function cableOf({ label }: Pick<KnownDevice, 'label'>): string | null {
  const plain = label.toLowerCase();
  if (!CABLE_WORDS.test(plain)) return null;
  const common = plain.replace(/[^\p{L}\p{N}]+/gu, ' ').replace(END_WORDS, ' ').replace(/\s+/g, ' ').trim();
  return common === '' ? null : common;
}

/** The other end of a cable, where the labels tell. */
export function farEndOf(device: KnownDevice, known: readonly KnownDevice[]): KnownDevice | null {
  const cable = cableOf(device);
  const others = known.filter((one) => one.kind !== device.kind && one.simulated === device.simulated && cableOf(one) === cable);
  return cable !== null && others.length === 1 ? others[0] : null;
}

/** Whether an output, by its name, is heard by everybody in the room. */
export const looksLikeLoudspeakers = ({ label, name }: Pick<KnownDevice, 'label' | 'name'>): boolean =>
  /speaker|lautsprecher|haut-parleur|altavoz|hdmi|display|monitor audio|soundbar/i.test(`${label} ${name}`) && !/head|ear|phone/i.test(`${label} ${name}`);
