import { createEngine, type Engine } from '../engine/engine';
import type { PlayedSink } from '../engine/played';
import { createSoundPlayer, type SoundClip, type SoundPlayer, type UnderTalk } from '../engine/sound-player';
import type { CompiledPlan } from '../hearing/compile';
import { CUE, returnOf, soundsOf, talkbackOf, voiceOf } from '../hearing/ids';
import type { PressAgain } from '../sounds/pad-modes';
import { createTalkSwitch } from './talk-switch';
import {
  createPracticeCall,
  type PracticeCall,
  type PracticeCallOptions,
} from '../practice/practice-call';

export interface MixSessionOptions {
  sources: number;
  listeners: number;
  maxBlock: number;
  /** Is told of every sound that was played into the mixes. */
  onPlayed?: PlayedSink;
}

interface Sound {
  clip: SoundClip;
  player: string;
}

/** One press of a pad. */
export interface SoundStart {
  id: string;
  /** Linear. */
  gain: number;
  /** What it does when the sound is playing already. */
  again: PressAgain;
  /** Sounds that give way to this one. */
  others: readonly string[];
  /** How long they take for it, and this one to come. */
  crossfadeSamples: number;
}

/** The player of what the host listens to first. */
const CUE_PLAYER = 'cue';

/**
 * One running desk: the engine, the sound players and the practice callers, block by block. The
 * audio worklet and the lab run this same code.
 */
export interface MixSession {
  readonly engine: Engine;
  /** Session clock at which the practice call began, or -1 while there is none. */
  callStart(): number;
  setPlan(plan: CompiledPlan, rampSeconds?: number): void;
  addSound(id: string, player: string, clip: SoundClip): void;
  /** Presses pads, all on the same sample. @throws {RangeError} for a sound that was not added */
  pressSounds(presses: readonly SoundStart[]): void;
  /** Fades last 10 ms unless given. */
  stopSound(id: string, fadeSamples?: number): void;
  stopAllSounds(fadeSamples?: number): void;
  /** Takes sounds that play under the talk and out. */
  takeUnder(ids: readonly string[], move: UnderTalk): void;
  /** Plays a sound into the phones alone; null stops that. */
  cueSound(id: string | null, gain: number): void;
  /** Position of the sound that is listened to first, or -1. */
  cuePosition(): number;
  /** Reports what plays as if it ended now: a take ends. */
  reportPlaying(): void;
  setSoundGain(id: string, gain: number): void;
  /** Position of a sound in samples, or -1 when it is not playing. */
  soundPosition(id: string): number;
  /** Sends a seat's microphone to its talkback instead of its voice, in 10 ms; null for back again. */
  setTalking(seat: string | null): void;
  startPractice(options: PracticeCallOptions): void;
  stopPractice(): void;
  /** Whether a practice seat is heard when its turn comes; its place in the conversation goes on either way. */
  setPracticeSpeaks(seat: string, speaks: boolean): void;
  /** Puts a practice seat on loudspeakers of that level, or on a headset (null). */
  setPracticeRoom(seat: string, couplingDb: number | null): void;
  /** Samples concealed on a practice seat's line so far. */
  concealedSamples(seat: string): number;
  /**
   * Fills all simulated and local sources for the coming block. Sources fed from outside (the
   * host's microphone) are written to `engine.inputs` after this and before {@link mix}.
   */
  fill(length: number): void;
  /** Mixes the block and lets the practice callers hear their returns. */
  mix(length: number): void;
}

export function createMixSession(options: MixSessionOptions): MixSession {
  const engine = createEngine(options);
  const sounds = new Map<string, Sound>();
  const players = new Map<string, SoundPlayer>();
  let plan: CompiledPlan | null = null;
  let practice: PracticeCall | null = null;
  let callStart = -1;
  // Engine slots, looked up when the plan or the call changes rather than in every block.
  const cue = createSoundPlayer();
  let cueSlot = -1;
  let cued = '';
  let playerSlots: { player: SoundPlayer; slot: number }[] = [];
  let voiceSlots: number[] = [];
  const silentPractice = new Set<string>();
  /** What a practice seat says that is not heard. */
  const unheard = new Float32Array(options.maxBlock);
  let returnSlots: number[] = [];
  const talk = createTalkSwitch();
  let talkingSeat: string | null = null;

  const playerOf = (id: string): SoundPlayer => {
    let player = players.get(id);
    if (!player) players.set(id, (player = createSoundPlayer(options.onPlayed)));
    return player;
  };
  const soundOf = (id: string): Sound => {
    const sound = sounds.get(id);
    if (!sound) throw new RangeError(`There is no sound ${id} on this desk.`);
    return sound;
  };
  const pressSound = ({ id, gain, again, others, crossfadeSamples }: SoundStart): void => {
    const { clip, player } = soundOf(id);
    const own = playerOf(player);
    const plays = own.positionOf(id) >= 0;
    if (plays && again === 'stop') return own.stop(id);
    if (plays && again === 'restart') own.stop(id);
    let replaces = false;
    for (const other of others) {
      const held = sounds.get(other);
      if (!held || other === id || playerOf(held.player).positionOf(other) < 0) continue;
      playerOf(held.player).stop(other, crossfadeSamples);
      replaces = true;
    }
    own.start(id, clip, gain, replaces ? crossfadeSamples : 0);
  };
  const findSlots = (): void => {
    const sourceSlot = (id: string) => plan?.sourceIds.findIndex((source) => source === id) ?? -1;
    const listenerSlot = (id: string) => plan?.listenerIds.findIndex((one) => one === id) ?? -1;
    playerSlots = [...players].map(([id, player]) => ({ player, slot: sourceSlot(soundsOf(id)) }));
    cueSlot = sourceSlot(CUE);
    voiceSlots = practice?.seats.map((seat) => (silentPractice.has(seat) ? -1 : sourceSlot(voiceOf(seat)))) ?? [];
    if (talkingSeat !== null) talk.slots(sourceSlot(voiceOf(talkingSeat)), sourceSlot(talkbackOf(talkingSeat)));
    returnSlots = practice?.seats.map((seat) => listenerSlot(returnOf(seat))) ?? [];
  };

  return {
    engine,
    callStart: () => callStart,
    setPlan(next, rampSeconds) {
      engine.setPlan(next, rampSeconds);
      plan = next;
      findSlots();
    },
    addSound(id, player, clip) {
      sounds.set(id, { clip, player });
      playerOf(player);
      findSlots();
    },
    pressSounds(presses) {
      for (const press of presses) pressSound(press);
    },
    stopSound(id, fadeSamples) {
      playerOf(soundOf(id).player).stop(id, fadeSamples);
    },
    stopAllSounds(fadeSamples) {
      for (const player of players.values()) player.stopAll(fadeSamples);
      cue.stopAll();
    },
    takeUnder(ids, move) {
      for (const id of ids) playerOf(soundOf(id).player).takeUnder(id, move);
    },
    cueSound(id, gain) {
      cue.stopAll();
      cued = id ?? '';
      if (id !== null) cue.start(CUE_PLAYER, soundOf(id).clip, gain);
    },
    cuePosition: () => (cued === '' ? -1 : cue.positionOf(CUE_PLAYER)),
    reportPlaying() {
      for (const player of players.values()) player.report(engine.clock());
    },
    setSoundGain(id, gain) {
      playerOf(soundOf(id).player).setGain(id, gain);
    },
    soundPosition(id) {
      const sound = sounds.get(id);
      return sound ? playerOf(sound.player).positionOf(id) : -1;
    },
    setTalking(seat) {
      talk.turn(seat !== null);
      if (seat === null) return;
      talkingSeat = seat;
      findSlots();
    },
    startPractice(call) {
      practice = createPracticeCall(call, options.maxBlock);
      callStart = engine.clock();
      findSlots();
    },
    stopPractice() {
      practice = null;
      callStart = -1;
      findSlots();
    },
    setPracticeSpeaks(seat, speaks) {
      if (speaks) silentPractice.delete(seat);
      else silentPractice.add(seat);
      findSlots();
    },
    setPracticeRoom(seat, couplingDb) {
      const speaker = practice?.seats.indexOf(seat) ?? -1;
      if (speaker >= 0) practice?.setCoupling(speaker, couplingDb);
    },
    concealedSamples(seat) {
      const speaker = practice?.seats.indexOf(seat) ?? -1;
      return practice && speaker >= 0 ? practice.concealedSamples(speaker) : 0;
    },
    fill(length) {
      for (let n = 0; n < engine.inputs.length; n++) {
        engine.inputs[n].left.fill(0, 0, length);
        engine.inputs[n].right.fill(0, 0, length);
      }
      for (let k = 0; k < playerSlots.length; k++) {
        const { player, slot } = playerSlots[k];
        if (slot >= 0) player.fill(engine.inputs[slot], length, engine.clock());
      }
      if (cueSlot >= 0) cue.fill(engine.inputs[cueSlot], length, engine.clock());
      if (!practice) return;
      practice.advance(length);
      for (let speaker = 0; speaker < voiceSlots.length; speaker++) {
        const slot = voiceSlots[speaker];
        if (slot < 0) {
          // Time goes on for whoever is not heard: they go on where they are, not where they were.
          practice.produce(speaker, unheard, length);
          continue;
        }
        const { left, right } = engine.inputs[slot];
        practice.produce(speaker, left, length);
        right.set(left);
      }
    },
    mix(length) {
      talk.process(engine.inputs, length);
      engine.process(length);
      if (!practice) return;
      for (let speaker = 0; speaker < returnSlots.length; speaker++) {
        const slot = returnSlots[speaker];
        if (slot >= 0) practice.hear(speaker, engine.outputs[slot], length);
      }
    },
  };
}
