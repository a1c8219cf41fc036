export interface CaptureRequest {
  readable: ReadableStream<AudioData>;
  ring: SharedArrayBuffer;
}

export type FromCapture = { type: 'ended' } | { type: 'failed'; message: string };
