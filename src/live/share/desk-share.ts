import type { LoopFound } from '@/core/echo/loop-guard';
import type { ListenerId } from '@/core/hearing/ids';
import { COMPUTER_SHARE } from '@/core/hearing/computer-share';
import { makeSweep } from '@/core/measure/sweep';
import { channelsOf, type Tap } from '@/core/session/captures';
import type { AudioDesk } from '../desk/audio-desk';
import type { Own, ShareSlice, ShareState } from '../desk/desk-state';
import type { HandsOnAir } from '../desk/hands-on-air';
import type { Patchbay, Unplug } from '../patch/patchbay';
import { ringBytes } from '../recorder/ring';
import type { FromGuard, WatchShare } from './guard-messages';
import { askForShare, simulateShare, type ShareStream } from './share-stream';
import type { Conditions } from '../desk/conditions';

export interface DeskShareOptions {
  store: Own<ShareSlice>;
  hands: HandsOnAir;
  /** The share's place in the engine. */
  place(): number;
  /** What the host hears. */
  phones(): ListenerId;
  /** The share was found to contain the call, or (null) is over. */
  coupled(loop: LoopFound | null): void;
  conditions: Conditions;
}

export type ShareKind = 'browser' | 'simulated' | 'simulated-loop';

/** Nobody hears a share before it was looked at for so long. */
const CHECK_MS = 2000;
/** Name of the capture that the loop guard reads. */
const GUARD = 'loop guard';
/** The chime that a share of the host's own phones would contain. */
const CHECK_SOUND = 'share-check';
const CHECK_GAIN = 0.35;

/** Shares another program's sound into the call, and keeps it out of the call when it contains it. */
export class DeskShare {
  readonly #options: DeskShareOptions;
  #audio: AudioDesk | null = null;
  #unplug: Unplug | null = null;
  #stream: ShareStream | null = null;
  #guard: Worker | null = null;
  #checking: ReturnType<typeof setTimeout> | undefined;

  constructor(options: DeskShareOptions) {
    this.#options = options;
  }

  async start(audio: AudioDesk, patchbay: Patchbay, kind: ShareKind): Promise<void> {
    this.stop();
    const { store, hands, conditions } = this.#options;
    for (const key of ['share', 'loop-guard']) conditions.end(key);
    try {
      this.#stream = kind === 'browser' ? await askForShare() : await simulateShare(audio, patchbay, kind === 'simulated-loop' ? this.#options.phones() : null);
    } catch (error) {
      return conditions.begin('share', (error as Error).message);
    }
    const [track] = this.#stream.stream.getAudioTracks();
    track.addEventListener('ended', () => this.stop());
    this.#audio = audio;
    hands.hold(COMPUTER_SHARE, true);
    this.#unplug = patchbay.plugStream(COMPUTER_SHARE, this.#stream.stream);
    store.setState({ share: { label: this.#stream.label, simulated: kind !== 'browser', phase: 'checking', loop: null } });
    this.#watch(audio);
    this.#chime(audio);
    this.#checking = setTimeout(() => this.#update('checking', { phase: 'open' }), CHECK_MS);
  }

  /** Lets a share through that was held; it is held again when the loop is still there. */
  letThrough(): void {
    this.#update('held', { phase: 'open', loop: null });
  }

  stop(): void {
    const { store, hands } = this.#options;
    clearTimeout(this.#checking);
    this.#guard?.terminate();
    this.#unplug?.();
    const stream = this.#stream;
    this.#guard = this.#unplug = this.#stream = null;
    stream?.close();
    this.#audio?.tell({ type: 'capture', name: GUARD, ring: null });
    this.#audio = null;
    this.#options.conditions.end('loop-guard');
    if (store.getState().share === null) return;
    hands.hold(COMPUTER_SHARE, false);
    store.setState({ share: null });
    this.#options.coupled(null);
  }

  #watch(audio: AudioDesk): void {
    const worker = new Worker(new URL('./loop-guard.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromGuard>) => this.#found(data);
    worker.onerror = () => {
      this.#options.conditions.begin('loop-guard', 'The loop guard stopped: listen yourself whether the share contains the call.');
    };
    const slot = this.#options.place();
    const taps: Tap[] = [{ of: 'source', slot, channels: 2 }, { of: 'others', slot, channels: 1 }];
    const ring = new SharedArrayBuffer(ringBytes(channelsOf(taps)));
    worker.postMessage({ ring } satisfies WatchShare);
    audio.tell({ type: 'capture', name: GUARD, ring, taps });
    this.#guard = worker;
  }

  /** Into the phones alone: without it nobody might speak while the share is looked at. */
  #chime(audio: AudioDesk): void {
    const { samples } = makeSweep(audio.context.sampleRate);
    const clip = { left: samples, right: samples.slice(), loop: false };
    audio.tell({ type: 'add-sound', id: CHECK_SOUND, player: CHECK_SOUND, clip, place: -1 });
    audio.tell({ type: 'cue-sound', id: CHECK_SOUND, gain: CHECK_GAIN });
  }

  #found(loop: LoopFound): void {
    const { share } = this.#options.store.getState();
    if (!share || share.phase === 'held') return;
    clearTimeout(this.#checking);
    this.#update(share.phase, { phase: 'held', loop });
    this.#options.coupled(loop);
  }

  #update(from: ShareState['phase'], change: Partial<ShareState>): void {
    const { store, hands } = this.#options;
    const { share } = store.getState();
    if (!share || share.phase !== from) return;
    store.setState({ share: { ...share, ...change } });
    hands.hold(COMPUTER_SHARE, change.phase !== 'open');
  }
}
