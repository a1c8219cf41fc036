/** One recording of a guest's own microphone, as the server knows it. */
export interface HomeTarget {
  home: string;
  /** Lets this browser send it. */
  key: string;
}

/** What the page tells the recorder of its own microphone. It ends by itself when the ring is closed and all is sent. */
export type ToHomeRecorder =
  | { type: 'start'; target: HomeTarget; ring: SharedArrayBuffer }
  /** Sends what an earlier page left on this browser's disk. */
  | { type: 'recover'; home: string }
  /** Bytes a second that the line has room for. */
  | { type: 'rate'; rate: number };

export type FromHomeRecorder =
  /** What is captured from now on is kept. */
  | { type: 'ready' }
  /** Samples captured, on this browser's own disk or beyond (null where there is none), and on the server; and why they wait. */
  | { type: 'progress'; captured: number; kept: number | null; sent: number; waiting: string | null }
  | { type: 'sent' }
  | { type: 'failed'; message: string };
