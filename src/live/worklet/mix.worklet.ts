/// <reference types="audioworklet" />
import { createMixSession } from '@/core/session/mix-session';
import { RING_BLOCK, ringWriter, type RingWriter } from '../recorder/ring';
import { MIX_PROCESSOR, type MixWorkletOptions, type Tap, type ToMixWorklet } from './messages';
import {
  BLOCKS_PER_READING,
  BUSY_MS,
  CALL_START,
  CLOCK,
  CUE_POSITION,
  GUARD_SAMPLES,
  MOST_PLAYS,
  MOST_SOUNDS,
  PAUSED_FRAMES,
  PLAYS,
  PLAY_WORDS,
  RECORDED_FRAMES,
  statusBoard,
  TRACE_COLUMNS,
  type StatusBoard,
} from './status-board';
import { meanSquare } from '@/core/engine/level-meter';

interface Recording {
  ring: RingWriter;
  taps: Tap[];
  frames: number;
  paused: boolean;
  /** Samples that went by while it was paused: the take goes on as if they had not. */
  skipped: number;
}

/** The audio thread: one mix session, fed and emptied by the browser 128 samples at a time. */
class MixProcessor extends AudioWorkletProcessor {
  readonly #session;
  readonly #board: StatusBoard;
  readonly #sounds: string[] = [];
  #inputs: number[] = [];
  #outputs: number[] = [];
  #busyMs = 0;
  #recording: Recording | null = null;
  #blocks = 0;

  constructor({ processorOptions }: { processorOptions: MixWorkletOptions }) {
    super();
    const { sources, listeners, status } = processorOptions;
    const board = (this.#board = statusBoard(status, sources, listeners));
    this.#session = createMixSession({
      sources,
      listeners,
      maxBlock: RING_BLOCK,
      onPlayed: (...played) => this.#logPlay(...played),
      guardRing: { share: board.guardShare, call: board.guardCall, advance: (samples) => Atomics.add(board.counters, GUARD_SAMPLES, samples) },
    });
    board.clocks[CALL_START] = board.clocks[CUE_POSITION] = -1;
    board.soundPosition.fill(-1);
    this.port.onmessage = ({ data }: MessageEvent<ToMixWorklet>) => {
      try {
        this.#obey(data);
      } catch (error) {
        this.port.postMessage({ type: 'failed', message: (error as Error).message });
      }
    };
  }

  #obey(message: ToMixWorklet): void {
    const session = this.#session;
    switch (message.type) {
      case 'plan':
        return session.setPlan(message.plan, message.rampSeconds);
      case 'places':
        this.#inputs = message.inputs;
        this.#outputs = message.outputs;
        return;
      case 'add-sound':
        session.addSound(message.id, message.player, message.clip);
        if (message.place >= 0 && message.place < MOST_SOUNDS) this.#sounds[message.place] = message.id;
        return;
      case 'press-sounds':
        return session.pressSounds(message.presses);
      case 'stop-sound':
        return session.stopSound(message.id, message.fadeSamples);
      case 'stop-all-sounds':
        return session.stopAllSounds(message.fadeSamples);
      case 'take-under':
        return session.takeUnder(message.ids, message.move);
      case 'cue-sound':
        return session.cueSound(message.id, message.gain);
      case 'guard':
        return session.guard(message.share);
      case 'sound-gain':
        return session.setSoundGain(message.id, message.gain);
      case 'talk':
        return session.setTalking(message.seat);
      case 'start-practice':
        return session.startPractice(message.options);
      case 'stop-practice':
        return session.stopPractice();
      case 'practice-room':
        return session.setPracticeRoom(message.seat, message.couplingDb);
      case 'record': {
        const channels = message.taps.reduce((sum, tap) => sum + tap.channels, 0);
        this.#recording = { ring: ringWriter(message.ring, channels), taps: message.taps, frames: message.from ?? 0, paused: false, skipped: 0 };
        return;
      }
      case 'pause-recording':
        if (this.#recording) this.#recording.paused = message.paused;
        return;
      case 'stop-recording':
        session.reportPlaying();
        this.#publish();
        this.#recording?.ring.close();
        this.#recording = null;
        return;
    }
  }

  process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const began = Date.now();
    const { engine } = this.#session;
    const length = outputs[0][0].length;
    const position = engine.clock();
    this.#session.fill(length);
    for (let k = 0; k < this.#inputs.length; k++) this.#takeInput(inputs[k], this.#inputs[k]);
    this.#session.mix(length);
    if (this.#recording) this.#record(this.#recording, position, length);
    for (let k = 0; k < this.#outputs.length; k++) this.#giveOutput(outputs[k], this.#outputs[k]);
    // The clock has whole milliseconds only; over many blocks the sum is right all the same.
    this.#busyMs += Date.now() - began;
    if (++this.#blocks % BLOCKS_PER_READING === 0) this.#publish();
    return true;
  }

  /** An unconnected input has no channels; a mono one reaches both sides. */
  #takeInput(channels: Float32Array[] | undefined, slot: number): void {
    if (slot < 0 || !channels || channels.length === 0) return;
    const input = this.#session.engine.inputs[slot];
    input.left.set(channels[0]);
    input.right.set(channels[channels.length > 1 ? 1 : 0]);
  }

  #giveOutput(channels: Float32Array[], slot: number): void {
    if (slot < 0) return;
    const heard = this.#session.engine.outputs[slot];
    channels[0].set(heard.left);
    channels[1]?.set(heard.right);
  }

  #record(recording: Recording, position: number, length: number): void {
    const { engine } = this.#session;
    if (recording.paused) {
      recording.skipped += length;
      return;
    }
    const room = recording.ring.next();
    recording.frames += length;
    // A full ring loses this block; the reader sees the jump in position and lists it.
    if (!room) return;
    let at = 0;
    for (let k = 0; k < recording.taps.length; k++) {
      const tap = recording.taps[k];
      const signal = tap.of === 'source' ? engine.taps[tap.slot] : tap.of === 'processed' ? engine.processed(tap.slot) : engine.outputs[tap.slot];
      const end = at + tap.channels * length;
      // A take that was gone on with may have a track whose source is no longer there.
      if (signal === undefined) room.fill(0, at, end);
      else {
        room.set(signal.left, at);
        if (tap.channels === 2) room.set(signal.right, at + length);
      }
      at = end;
    }
    recording.ring.commit(position - recording.skipped);
  }

  /** Puts a sound that ended into the log the page reads. */
  #logPlay(sound: string, startedAt: number, length: number, peak: number, sumOfSquares: number): void {
    const board = this.#board;
    const at = (Atomics.load(board.counters, PLAYS) % MOST_PLAYS) * PLAY_WORDS;
    board.plays[at] = this.#sounds.indexOf(sound);
    board.plays[at + 1] = startedAt;
    board.plays[at + 2] = length;
    board.plays[at + 3] = peak;
    board.plays[at + 4] = sumOfSquares;
    Atomics.add(board.counters, PLAYS, 1);
  }

  #publish(): void {
    const board = this.#board;
    const { engine } = this.#session;
    const column = Atomics.load(board.readings, 0) % TRACE_COLUMNS;
    for (let n = 0; n < board.sourcePeak.length; n++) {
      board.sourcePeak[n] = engine.sourceMeters.peak[n];
      board.sourceRms[n] = Math.sqrt(meanSquare(engine.sourceMeters, n));
      board.sourceLoudness[n] = engine.sourceLoudness(n);
      board.trace[n * TRACE_COLUMNS + column] = engine.sourceMeters.peak[n];
    }
    for (let m = 0; m < board.listenerPeak.length; m++) {
      board.listenerPeak[m] = engine.listenerMeters.peak[m];
      board.listenerRms[m] = Math.sqrt(meanSquare(engine.listenerMeters, m));
      board.limitedSamples[m] = engine.limitedSamples(m);
    }
    engine.sourceMeters.clear();
    engine.listenerMeters.clear();
    for (let k = 0; k < this.#sounds.length; k++) {
      board.soundPosition[k] = this.#session.soundPosition(this.#sounds[k]);
    }
    for (let n = 0; n < board.duckGain.length; n++) board.duckGain[n] = engine.duckNow(n);
    board.clocks[CUE_POSITION] = this.#session.cuePosition();
    board.clocks[CLOCK] = engine.clock();
    board.clocks[CALL_START] = this.#session.callStart();
    board.clocks[BUSY_MS] = this.#busyMs;
    board.clocks[RECORDED_FRAMES] = this.#recording?.frames ?? 0;
    board.clocks[PAUSED_FRAMES] = this.#recording?.skipped ?? 0;
    Atomics.add(board.readings, 0, 1);
  }
}

registerProcessor(MIX_PROCESSOR, MixProcessor);
