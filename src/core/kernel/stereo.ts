export interface Stereo {
  readonly left: Float32Array;
  readonly right: Float32Array;
}
