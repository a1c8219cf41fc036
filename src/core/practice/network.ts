import { createRandom } from '../random';

/** One packet carries 20 ms, as is usual for speech over RTP (RFC 3551, 4.2). */
const PACKET_SAMPLES = 960;
/** Cross-fade back from concealment to received sound. */
const REJOIN_SAMPLES = 120;
/** How much quieter each further concealed packet is. */
const CONCEALMENT_DECAY = 0.5;

export interface NetworkOptions {
  /** Least time a packet travels, ms. */
  delayMs: number;
  /** Most that a packet may take longer than that, ms; evenly spread. */
  jitterMs: number;
  /** Share of packets that never arrive, 0 to 1. */
  loss: number;
  /** How long the receiver waits beyond `delayMs` before it gives a packet up, ms. */
  bufferMs: number;
  seed: number;
}

/**
 * One direction of a simulated line, mono at 48 kHz: packets with delay, jitter and loss, played
 * out on time by a fixed buffer; what is late or lost is concealed with the sound before it,
 * turned round and fading.
 */
export interface NetworkPath {
  /** Takes `length` samples in and gives as many out, later by {@link NetworkPath.delaySamples}. */
  process(input: Float32Array, output: Float32Array, length: number): void;
  readonly delaySamples: number;
  concealedSamples(): number;
}

export function createNetworkPath(options: NetworkOptions, sampleRate = 48000): NetworkPath {
  const random = createRandom(options.seed);
  const travel = Math.round(((options.delayMs + options.bufferMs) / 1000) * sampleRate);
  const delaySamples = PACKET_SAMPLES + travel;
  const size = 2 ** Math.ceil(Math.log2(delaySamples + 2 * PACKET_SAMPLES));
  const line = new Float32Array(size);
  const lastGood = new Float32Array(PACKET_SAMPLES);
  let clock = 0;
  let concealed = 0;
  let arrived = true;
  let wasConcealing = false;
  let run = 0;
  let fade = 0;
  // A captured number that changed every sample would be allocated every sample.
  const last = new Float64Array(1);

  const beginPacket = (): void => {
    // Both draws are made for every packet, so that one setting does not reshuffle the other.
    const isLost = random.next() < options.loss;
    const isLate = random.next() * options.jitterMs > options.bufferMs;
    wasConcealing = !arrived;
    arrived = !isLost && !isLate;
    run = arrived ? 0 : run + 1;
    fade = wasConcealing && arrived ? REJOIN_SAMPLES : 0;
  };

  return {
    delaySamples,
    concealedSamples: () => concealed,
    process(input, output, length) {
      for (let i = 0; i < length; i++, clock++) {
        line[clock & (size - 1)] = input[i];
        const played = clock - delaySamples;
        if (played < 0) {
          output[i] = 0;
          continue;
        }
        const inPacket = played % PACKET_SAMPLES;
        if (inPacket === 0) beginPacket();
        if (arrived) {
          const received = line[played & (size - 1)];
          const old = fade > 0 ? fade-- / REJOIN_SAMPLES : 0;
          output[i] = received * (1 - old) + last[0] * old;
          lastGood[inPacket] = received;
          if (old === 0) last[0] = output[i];
        } else {
          // The last packet backwards begins with the sample that was played last: no step.
          const position = run % 2 === 1 ? PACKET_SAMPLES - 1 - inPacket : inPacket;
          const slope = 1 - (1 - CONCEALMENT_DECAY) * (inPacket / PACKET_SAMPLES);
          output[i] = lastGood[position] * CONCEALMENT_DECAY ** (run - 1) * slope;
          last[0] = output[i];
          concealed++;
        }
      }
    },
  };
}
