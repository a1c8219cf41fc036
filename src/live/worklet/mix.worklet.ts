/// <reference types="audioworklet" />
import type { StripReduction } from '@/core/engine/strip/strip';
import { createSuppressors } from '@/core/noise/suppressors';
import makeNoiseLibrary from '@echogarden/rnnoise-wasm';
import { createMixSession } from '@/core/session/mix-session';
import { RING_BLOCK, ringWriter } from '../recorder/ring';
import { createPlayBack, TEST_CALL_CAPTURE, type HeardBy } from '@/core/session/play-back';
import { Captures, channelsOf, type Tap } from '@/core/session/captures';
import { MIX_PROCESSOR, type MixWorkletOptions, type ToMixWorklet } from './messages';
import {
  BLOCKS_PER_READING,
  BUSY_MS,
  CALL_START,
  CLOCK,
  COMPARED_LOUDNESS,
  CUE_POSITION,
  MOST_SOUNDS,
  REDUCTIONS,
  RECORDED_FRAMES,
  statusBoard,
  TRACE_COLUMNS,
  type StatusBoard,
} from './status-board';
import { DESK_RATE } from '../devices/open-context';
import { DevicePorts } from './device-ports';
import { TakeCapture } from './take-capture';
import { meanSquare } from '@/core/engine/level-meter';

/** The audio thread: one mix session, fed and emptied by the browser 128 samples at a time. */
class MixProcessor extends AudioWorkletProcessor {
  readonly #session;
  readonly #board: StatusBoard;
  readonly #sounds: string[] = [];
  #inputs: number[] = [];
  #outputs: number[] = [];
  readonly #devices = new DevicePorts(RING_BLOCK, DESK_RATE);
  #busyMs = 0;
  #capture: TakeCapture | null = null;
  readonly #captures = new Captures();
  readonly #reduction: StripReduction = { gateDb: 0, compressorDb: 0, deEsserDb: 0, limiterDb: 0 };
  /** Number of the plan in force. */
  #plan = 0;
  #blocks = 0;

  constructor({ processorOptions }: { processorOptions: MixWorkletOptions }) {
    super();
    const { sources, listeners, status } = processorOptions;
    const board = (this.#board = statusBoard(status, sources, listeners));
    this.#session = createMixSession({
      sources,
      listeners,
      maxBlock: RING_BLOCK,
      onPlayed: (sound, startedAt, length, peak, sumOfSquares) => this.#capture?.played(this.#sounds.indexOf(sound), startedAt, length, peak, sumOfSquares),
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
        session.setPlan(message.plan, message.rampSeconds);
        if (message.number !== this.#plan) this.#capture?.planInForce(message.number);
        this.#plan = message.number;
        return;
      case 'places':
        this.#inputs = message.inputs;
        this.#outputs = message.outputs;
        this.#devices.setPlaces(message.devices, message.outlets);
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
      case 'capture':
        if (message.ring === null) return this.#captures.stop(message.name);
        return this.#captures.start(message.name, message.taps, ringOf(message.ring, message.taps));
      case 'probe':
        session.engine.probe(message.probes, message.samples);
        return this.port.postMessage({ type: 'probing', number: message.number, at: session.engine.clock() });
      case 'stop-probes':
        return session.engine.stopProbes();
      case 'play-back':
        return this.#playBack(message.number, message.tap, message.heardBy);
      case 'cancel':
        if (message.echo === null) return session.engine.stopCancelling(message.source);
        return session.engine.cancel({ source: message.source, ...message.echo });
      case 'noise-suppression':
        return void createSuppressors(makeNoiseLibrary, message.module).then((make) => session.engine.suppressWith(make), (error: Error) => this.port.postMessage({ type: 'failed', message: error.message }));
      case 'compare':
        return session.engine.compare(message.source);
      case 'sound-gain':
        return session.setSoundGain(message.id, message.gain);
      case 'talk':
        return session.setTalking(message.seat);
      case 'start-practice':
        return session.startPractice(message.options);
      case 'stop-practice':
        return session.stopPractice();
      case 'practice-speaks':
        return session.setPracticeSpeaks(message.seat, message.speaks);
      case 'practice-room':
        return session.setPracticeRoom(message.seat, message.couplingDb);
      case 'record':
        this.#capture = new TakeCapture(this.#board, ringOf(message.ring, message.taps), message.taps, message.from ?? 0, session.engine.clock(), this.#plan);
        return;
      case 'record-more':
        return this.#capture?.goOnWith(ringOf(message.ring, message.taps), message.taps);
      case 'device':
        return this.#devices.plug(message.port, message.ring, message.channels);
      case 'outlet':
        return this.#devices.carry(message.port, message.ring);
      case 'pause-recording':
        return this.#capture?.pause(message.paused);
      case 'stop-recording':
        session.reportPlaying();
        this.#publish();
        this.#capture?.end();
        this.#capture = null;
        return;
    }
  }

  #playBack(number: number, tap: Tap, heardBy: HeardBy): void {
    const { engine } = this.#session;
    const { probe, samples, sink } = createPlayBack(heardBy, engine.clock(), RING_BLOCK, DESK_RATE);
    this.#captures.start(TEST_CALL_CAPTURE, [tap], sink);
    engine.probe([probe], samples);
    this.port.postMessage({ type: 'probing', number, at: engine.clock() });
  }

  process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const began = Date.now();
    const { engine } = this.#session;
    const length = outputs[0][0].length;
    this.#session.fill(length);
    for (let k = 0; k < this.#inputs.length; k++) this.#takeInput(inputs[k], this.#inputs[k]);
    this.#devices.take(engine, length);
    const position = engine.clock();
    this.#session.mix(length);
    this.#capture?.take(engine, length);
    this.#captures.take(engine, position, length);
    for (let k = 0; k < this.#outputs.length; k++) this.#giveOutput(outputs[k], this.#outputs[k]);
    this.#devices.give(engine, length);
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
    for (let n = 0; n < board.duckGain.length; n++) {
      board.duckGain[n] = engine.duckNow(n);
      engine.readReduction(n, this.#reduction);
      const { gateDb, compressorDb, deEsserDb, limiterDb } = this.#reduction;
      board.reduction[n * REDUCTIONS] = gateDb;
      board.reduction[n * REDUCTIONS + 1] = compressorDb;
      board.reduction[n * REDUCTIONS + 2] = deEsserDb;
      board.reduction[n * REDUCTIONS + 3] = limiterDb;
    }
    board.clocks[COMPARED_LOUDNESS] = engine.comparedLoudness();
    board.clocks[CUE_POSITION] = this.#session.cuePosition();
    board.clocks[CLOCK] = engine.clock();
    board.clocks[CALL_START] = this.#session.callStart();
    board.clocks[BUSY_MS] = this.#busyMs;
    board.clocks[RECORDED_FRAMES] = this.#capture?.frames ?? 0;
    Atomics.add(board.readings, 0, 1);
  }
}

const ringOf = (memory: SharedArrayBuffer, taps: readonly Tap[]) => ringWriter(memory, channelsOf(taps));

registerProcessor(MIX_PROCESSOR, MixProcessor);
