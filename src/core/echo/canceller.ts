import { createBleedFilter, FILTER_BLOCK, type BleedFilter } from './bleed-filter';
import { JumpFinder } from './jump-finder';
import { ResidualSuppressor } from './residual-suppressor';

/** Samples that a cancelled voice is late: a block is waited for, and a frame overlaps. */
export const CANCELLER_DELAY = 2 * FILTER_BLOCK;
const PARTITIONS = 12;
/** The filter begins so long before the delay that was measured: buffers move, s. */
const BEFORE_SECONDS = 0.03;
/** What the suppressor reckons with begins a little before, too. */
const SUPPRESS_BEFORE_SECONDS = 0.012;
/** At the far end of the filter a room is so much surer to be quiet. */
const FADE = Math.exp(-4.6 / PARTITIONS);
/** What may change of the path at any time, as a share of its power: more follows jumps sooner, and takes more from a voice that makes no echo. */
const CHANGE = 0.2;
/** What a canceller leaves at first of an echo, as a share of its power. */
const LEFT_AT_FIRST = 0.6;
/** Of what comes in so much is left: little was taken away. */
const LITTLE = 0.25;
const MOMENT = 0.15;
const LOOK_EVERY_BLOCKS = 8;
/** Nearer than this the filter gets by itself, ms. */
const NEAR_MS = 25;
/** It may have lost the echo when so much was sent of which it never took away much, s. */
const LOST_SECONDS = 1.2;
/** It is found at the same place: within so much; and so much was sent that no jump before is meant, s. */
const SAME_MS = 3;
const SETTLED_SECONDS = 2.5;
/** Something is sent: −60 dBFS. */
const SENT_POWER = 1e-6;
/** What is learned from a block, and whether the echo has jumped, is worked out over the next, so that no block of the engine has to do all of it. */
const LEARN_PARTS = 2;
const PART = FILTER_BLOCK / (LEARN_PARTS + 2);
/** Longest delay it can follow, s. */
const LONGEST_SECONDS = 1.2;

export interface EchoPath {
  delayMs: number;
  /** How loud it comes back, dB. */
  gainDb: number;
}

/**
 * Takes the echo of what was sent to somebody out of what comes from them: a partitioned-block Kalman filter that keeps still
 * while they speak, and a suppressor for what no linear filter can know. Nothing comes back sooner than {@link CANCELLER_DELAY}
 * samples later. Allocates nothing while it runs.
 */
export class EchoCanceller {
  readonly #rate: number;
  readonly #sent: Float32Array;
  readonly #suppressor = new ResidualSuppressor();
  readonly #microphone = new Float32Array(FILTER_BLOCK);
  readonly #reference = new Float32Array(FILTER_BLOCK);
  readonly #aligned = new Float32Array(FILTER_BLOCK);
  readonly #left = new Float32Array(FILTER_BLOCK);
  readonly #ready = new Float32Array(FILTER_BLOCK);
  readonly #references: Float32Array[] = [this.#reference];
  readonly #jumps: JumpFinder;
  #filter: BleedFilter | null = null;
  /** Parts of what there is to do after a block that are done. */
  #done = LEARN_PARTS + 1;
  #blocks = 0;
  /** Power of what came in and of what was left, a moment long. */
  #came = 0;
  #kept = 0;
  readonly #leastDelay: number;
  #at = 0;
  /** Samples of the microphone, and of what was sent. */
  #clock = 0;
  #heard = 0;
  #delay = 0;
  /** Samples of what was sent since it last took away much. */
  #sinceGood = 0;
  /** Where the echo is that this takes away, as those see it who find it; samples. What was learned may lie anywhere within the filter. */
  #path = 0;
  /** Where it was found last, what was sent since then and since the last jump, and whether that was followed; samples. */
  #told = 0;
  #sinceTold = 0;
  #followed = true;

  /** @param heardLater samples by which what was sent may be heard after what came in at the same time: a block at most */
  constructor(sampleRate = 48_000, heardLater = 0) {
    this.#leastDelay = heardLater;
    this.#rate = sampleRate;
    this.#jumps = new JumpFinder(sampleRate);
    this.#sent = new Float32Array(2 ** Math.ceil(Math.log2(LONGEST_SECONDS * sampleRate + 2 * FILTER_BLOCK)));
  }

  /** Begins anew with an echo as it was measured. Not for the audio block: it makes a filter. */
  begin({ delayMs, gainDb }: EchoPath): void {
    const power = 10 ** (gainDb / 10);
    this.#filter = createBleedFilter([power], { partitions: PARTITIONS, transition: 0.9995, change: CHANGE, fadePerPartition: FADE, constrained: 3 });
    this.#suppressor.begin(power, LEFT_AT_FIRST * power);
    this.#jumps.clear();
    this.#came = this.#kept = this.#sinceGood = this.#sinceTold = 0;
    this.#path = this.#told = (delayMs / 1000) * this.#rate;
    this.#followed = true;
    this.#move(Math.round(this.#path));
  }

  /**
   * The echo was found there. Whoever finds it is later with a jump than this is, so nothing is done while much is taken away; and
   * where an echo is found at one place for a while meanwhile, that is the place this has.
   */
  follow(delayMs: number): void {
    const found = (delayMs / 1000) * this.#rate;
    if (Math.abs(found - this.#told) > (SAME_MS / 1000) * this.#rate) [this.#told, this.#sinceTold, this.#followed] = [found, 0, false];
    if (this.#sinceGood === 0) {
      this.#followed = true;
      if (this.#sinceTold > SETTLED_SECONDS * this.#rate) this.#path = found;
    }
    if (this.#followed || this.#sinceGood < LOST_SECONDS * this.#rate) return;
    this.#followed = true;
    const off = Math.round(found - this.#path);
    if (Math.abs(off) > (NEAR_MS / 1000) * this.#rate) this.#jump(off);
  }

  #jump(samples: number): void {
    this.#path += samples;
    this.#sinceTold = 0;
    this.#move(this.#delay + samples);
  }

  /** Everything is as it was, and so many samples later or sooner: what was sent is looked at anew. */
  #move(delay: number): void {
    // What the last block would have taught was said of another place.
    this.#done = LEARN_PARTS + 1;
    this.#delay = Math.max(0, Math.min(LONGEST_SECONDS * this.#rate, delay));
    for (let ago = PARTITIONS - 1; ago >= 0; ago--) {
      this.#take(this.#reference, this.#delay - BEFORE_SECONDS * this.#rate, ago);
      this.#filter?.recall(this.#references);
    }
    this.#jumps.clear();
  }

  /** What was sent, mono: as many samples as are processed, the one before the other or after it. */
  hear(sent: Float32Array, length: number): void {
    const mask = this.#sent.length - 1;
    for (let i = 0; i < length; i++) this.#sent[this.#heard++ & mask] = sent[i];
  }

  /** @param microphone what came in, mono */
  process(microphone: Float32Array, out: Float32Array, length: number): void {
    for (let i = 0; i < length; i++) {
      this.#clock++;
      this.#microphone[this.#at] = microphone[i];
      out[i] = this.#ready[this.#at];
      if (++this.#at === FILTER_BLOCK) this.#block();
      else if (this.#at % PART === 0) this.#afterBlock();
    }
  }

  #block(): void {
    this.#at = 0;
    if (!this.#filter) return void this.#ready.fill(0);
    this.#take(this.#reference, this.#delay - BEFORE_SECONDS * this.#rate);
    this.#take(this.#aligned, this.#delay - SUPPRESS_BEFORE_SECONDS * this.#rate);
    this.#filter.takeAway(this.#microphone, this.#references, this.#left);
    this.#noteLeft();
    this.#done = 0;
    this.#suppressor.process(this.#left, this.#microphone, this.#aligned, this.#ready);
  }

  #afterBlock(): void {
    if (this.#done > LEARN_PARTS) return;
    if (this.#done++ < LEARN_PARTS) this.#filter?.learn(this.#done - 1, LEARN_PARTS);
    else this.#followJumps();
  }

  #noteLeft(): void {
    this.#jumps.push(this.#microphone, this.#left);
    let [came, kept, sent] = [0, 0, 0];
    for (let i = 0; i < FILTER_BLOCK; i++) {
      came += this.#microphone[i] * this.#microphone[i];
      kept += this.#left[i] * this.#left[i];
      sent += this.#reference[i] * this.#reference[i];
    }
    this.#came += MOMENT * (came - this.#came);
    this.#kept += MOMENT * (kept - this.#kept);
    if (sent < SENT_POWER * FILTER_BLOCK) return;
    this.#sinceTold += FILTER_BLOCK;
    this.#sinceGood = this.#kept < LITTLE * this.#came ? 0 : this.#sinceGood + FILTER_BLOCK;
  }

  /** Where little is taken away what was expected may be elsewhere: looked at now and then, for it costs. */
  #followJumps(): void {
    if (++this.#blocks % LOOK_EVERY_BLOCKS !== 0 || this.#kept < LITTLE * this.#came) return;
    const jump = this.#jumps.find();
    if (jump !== 0) this.#jump(jump);
  }

  /** @param ago blocks before the newest */
  #take(into: Float32Array, delay: number, ago = 0): void {
    const mask = this.#sent.length - 1;
    const from = this.#clock - this.#at - (1 + ago) * FILTER_BLOCK - Math.max(this.#leastDelay, Math.round(delay));
    for (let i = 0; i < FILTER_BLOCK; i++) into[i] = from + i < 0 ? 0 : this.#sent[(from + i) & mask];
  }
}
