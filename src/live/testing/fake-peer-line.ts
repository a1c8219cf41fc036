import type { PeerLineOptions, SetUp } from '../lines/peer-line';

/** One end of a peer connection, without the connection: what it was told, and a way to let things happen to it. */
export class FakePeerLine {
  /** All that were made, newest last. */
  static all: FakePeerLine[] = [];
  state: RTCPeerConnectionState = 'new';
  readonly said: Record<string, unknown>[] = [];
  readonly received: SetUp[] = [];
  readonly bitrates: number[] = [];
  readonly jitterTargets: number[] = [];
  restarts = 0;
  closed = false;
  /** When the newest packet came, on the clock of the statistics, ms; 0 before the first. */
  lastPacketAt = 0;
  /** Sound that had to be made up so far, ms. */
  concealedMs = 0;
  #packets = 0;

  constructor(readonly options: PeerLineOptions) {
    FakePeerLine.all.push(this);
  }

  static get newest(): FakePeerLine {
    return FakePeerLine.all.at(-1)!;
  }

  get connection(): string {
    return this.options.connection;
  }

  begin(): void {}
  sendTrack = (): Promise<void> => Promise.resolve();
  receive = (body: SetUp): void => void this.received.push(body);
  say = (what: object): void => void this.said.push(what as Record<string, unknown>);
  setJitterTarget = (milliseconds: number): void => void this.jitterTargets.push(milliseconds);
  restartIce = (): void => void this.restarts++;
  close = (): void => void (this.closed = true);

  setBitrate(kbps: number): Promise<void> {
    this.bitrates.push(kbps);
    return Promise.resolve();
  }

  stats(): Promise<Record<string, unknown>[]> {
    const at = FakePeerLine.now();
    return Promise.resolve([{ type: 'inbound-rtp', kind: 'audio', timestamp: at, packetsReceived: (this.#packets += 50), lastPacketReceivedTimestamp: this.lastPacketAt, concealedSamples: 48 * this.concealedMs }]);
  }

  /** The clock of the statistics, ms. */
  static now = (): number => performance.timeOrigin + performance.now();

  become(state: RTCPeerConnectionState): void {
    this.state = state;
    this.options.onState(state);
  }
}
