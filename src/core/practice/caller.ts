import type { Stereo } from '../engine/mixer';
import { seedFor } from '../random';
import { createNetworkPath, type NetworkOptions, type NetworkPath } from './network';
import { createRoom, type Room, type RoomOptions } from './room';
import { createPracticeVoice, type PracticeVoice } from './voice';

export interface CallerSettings {
  room: RoomOptions;
  uplink: NetworkOptions;
  downlink: NetworkOptions;
}

/**
 * A simulated caller. Their loudspeakers play their true return, so an echo they cause is a real
 * one: return → downlink → room → microphone → uplink → their source.
 */
export interface PracticeCaller {
  readonly voice: PracticeVoice;
  readonly uplink: NetworkPath;
  readonly room: Room;
  /** The next block of what arrives from this caller, mono. */
  produce(out: Float32Array, length: number): void;
  /** What the desk sent them in the same block. */
  hear(mix: Stereo, length: number): void;
}

export function createPracticeCaller(settings: CallerSettings, maxBlock: number): PracticeCaller {
  const voice = createPracticeVoice();
  const room = createRoom(settings.room, maxBlock);
  const uplink = createNetworkPath(settings.uplink);
  const downlink = createNetworkPath(settings.downlink);
  const microphone = new Float32Array(maxBlock);
  const mono = new Float32Array(maxBlock);
  return {
    voice,
    uplink,
    room,
    produce(out, length) {
      voice.fill(microphone, length);
      room.pickUp(microphone, length);
      uplink.process(microphone, out, length);
    },
    hear({ left, right }, length) {
      for (let i = 0; i < length; i++) mono[i] = 0.5 * (left[i] + right[i]);
      downlink.process(mono, mono, length);
      room.play(mono, length);
    },
  };
}

/** What a host can choose for a practice caller, in place of numbers. */
export interface CallerCharacter {
  loudspeakers: boolean;
  network: 'good' | 'weak';
}

const NETWORKS = {
  good: { delayMs: 32, jitterMs: 8, loss: 0, bufferMs: 12 },
  weak: { delayMs: 60, jitterMs: 40, loss: 0.02, bufferMs: 36 },
} as const;

/** Echo path of a laptop with its loudspeakers on: 18 dB down. */
const LOUDSPEAKER_COUPLING_DB = -18;
const LOUDSPEAKER_DELAY_MS = 90;

export function callerSettings(character: CallerCharacter, seed: number): CallerSettings {
  const network = NETWORKS[character.network];
  return {
    room: {
      couplingDb: character.loudspeakers ? LOUDSPEAKER_COUPLING_DB : null,
      delayMs: LOUDSPEAKER_DELAY_MS,
      seed: seedFor(seed, 'room'),
    },
    uplink: { ...network, seed: seedFor(seed, 'uplink') },
    downlink: { ...network, seed: seedFor(seed, 'downlink') },
  };
}
