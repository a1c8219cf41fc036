/** Sound that was heard over some time, by the frames of one context. */
export interface Packet {
  atFrame: number;
  samples: Float32Array;
}

/** Packets as one signal from a frame on; what is missing is silence. */
export function joined(packets: readonly Packet[], fromFrame: number): Float32Array<ArrayBuffer> {
  const last = packets.at(-1);
  const length = Math.max(0, last ? last.atFrame + last.samples.length - fromFrame : 0);
  const signal = new Float32Array(length);
  for (const { atFrame, samples } of packets) {
    const at = atFrame - fromFrame;
    if (at >= 0) signal.set(samples, at);
    else if (at + samples.length > 0) signal.set(samples.subarray(-at), 0);
  }
  return signal;
}
