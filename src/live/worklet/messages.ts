import type { SoundClip, UnderTalk } from '@/core/engine/sound-player';
import type { InputChannels } from '@/core/devices/device';
import type { Cancelling } from '@/core/engine/cancellers';
import type { Probe } from '@/core/engine/probes';
import type { Tap } from '@/core/session/captures';
import type { HeardBy } from '@/core/session/play-back';
import type { SoundStart } from '@/core/session/mix-session';
import type { CompiledPlan } from '@/core/hearing/compile';
import type { PracticeCallOptions } from '@/core/practice/practice-call';

/** What the page tells the audio thread. */
export type ToMixWorklet =
  /** `number` says which plan and hands these are: the log of a take names them by it. */
  | { type: 'plan'; number: number; plan: CompiledPlan; rampSeconds?: number }
  /** For each input of the node the source it feeds, for each output the listener it carries; the same for devices and outlets; -1 for none. */
  | { type: 'places'; inputs: number[]; outputs: number[]; devices: number[]; outlets: number[] }
  /** `place` is the sound's place on the status board; -1 for one that is not shown there. */
  | { type: 'add-sound'; id: string; player: string; clip: SoundClip; place: number }
  | { type: 'press-sounds'; presses: SoundStart[] }
  | { type: 'stop-sound'; id: string; fadeSamples?: number }
  | { type: 'stop-all-sounds'; fadeSamples?: number }
  | { type: 'take-under'; ids: string[]; move: UnderTalk }
  | { type: 'cue-sound'; id: string | null; gain: number }
  /** Blocks of some signals for whoever asks, by the session clock; without a ring the capture of that name ends. */
  | { type: 'capture'; name: string; ring: SharedArrayBuffer; taps: Tap[] }
  | { type: 'capture'; name: string; ring: null }
  /** Known sounds for so many samples; it is answered with when they began. */
  | { type: 'probe'; number: number; probes: Probe[]; samples: number }
  | { type: 'stop-probes' }
  /** A test call: what one tap brings is recorded, and then heard by somebody; answered as probes are. */
  | { type: 'play-back'; number: number; tap: Tap; heardBy: HeardBy }
  /** An echo is taken out of a source, or followed elsewhere; null for no longer. */
  | { type: 'cancel'; source: number; echo: Omit<Cancelling, 'source'> | null }
  /** What suppresses noise, compiled. */
  | { type: 'noise-suppression'; module: WebAssembly.Module }
  /** Whose loudness behind its strip is measured; -1 for nobody's. */
  | { type: 'compare'; source: number }
  | { type: 'sound-gain'; id: string; gain: number }
  /** Whose microphone goes to its talkback; null for nobody's. */
  | { type: 'talk'; seat: string | null }
  | { type: 'start-practice'; options: PracticeCallOptions }
  | { type: 'stop-practice' }
  /** Whether a practice seat is heard; the others do not notice. */
  | { type: 'practice-speaks'; seat: string; speaks: boolean }
  | { type: 'practice-room'; seat: string; couplingDb: number | null }
  /** `from`: the take goes on with this sample. */
  | { type: 'record'; ring: SharedArrayBuffer; taps: Tap[]; from?: number }
  /** More tracks from the next sample on: the same taps and further ones, into another ring. */
  | { type: 'record-more'; ring: SharedArrayBuffer; taps: Tap[] }
  | { type: 'pause-recording'; paused: boolean }
  | { type: 'stop-recording' }
  /** What a device captures comes by a ring, with a clock of its own; null for no longer. */
  | { type: 'device'; port: number; ring: SharedArrayBuffer | null; channels: InputChannels }
  /** A mix leaves by a ring; null for no longer. */
  | { type: 'outlet'; port: number; ring: SharedArrayBuffer | null };

/** What the audio thread tells the page. Meters do not come this way: see the status board. */
export type FromMixWorklet =
  | { type: 'failed'; message: string }
  /** The probes of that message begin with this sample of the session clock. */
  | { type: 'probing'; number: number; at: number };

export interface MixWorkletOptions {
  sources: number;
  listeners: number;
  status: SharedArrayBuffer;
}

export const MIX_PROCESSOR = 'mix-processor';
