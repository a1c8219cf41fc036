import type { FromDesk } from '@/core/lines/messages';
import { askForOpus, type OpusWishes } from '@/core/lines/opus-sdp';

/** The messages two ends of a line set it up with. */
export type SetUp = Extract<FromDesk, { type: 'description' | 'candidate' }>;

export interface PeerLineOptions {
  /** Names this connection in its messages. */
  connection: string;
  /** Of two ends that speak at once, the polite one gives way. */
  polite: boolean;
  iceServers: RTCIceServer[];
  /** What this end wants to be sent. */
  wishes: OpusWishes;
  /** What this end sends, whatever the other wishes; its wishes unless given. */
  sends?: OpusWishes;
  send(body: SetUp): void;
  onStream(stream: MediaStream): void;
  onState(state: RTCPeerConnectionState): void;
  /** Something the other end said over the line itself. */
  onSaid(text: string): void;
  onCanSay(): void;
}

/** The longest text taken over a line. */
const LONGEST_TEXT = 8000;

/**
 * One peer connection with one audio stream each way and a channel for short texts. Negotiation is
 * the W3C's "perfect negotiation" (WebRTC 1.0, 10.7): both ends may begin at any time.
 */
export class PeerLine {
  readonly connection: string;
  readonly #options: PeerLineOptions;
  readonly #pc: RTCPeerConnection;
  readonly #channel: RTCDataChannel;
  #track: MediaStreamTrack | null = null;
  #makingOffer = false;
  #ignoring = false;
  #queue: Promise<void> = Promise.resolve();

  constructor(options: PeerLineOptions) {
    this.connection = options.connection;
    this.#options = options;
    const pc = new RTCPeerConnection({ iceServers: options.iceServers, bundlePolicy: 'max-bundle' });
    this.#pc = pc;
    this.#channel = pc.createDataChannel('line', { negotiated: true, id: 0 });
    this.#channel.onmessage = ({ data }) => {
      if (typeof data === 'string' && data.length <= LONGEST_TEXT) options.onSaid(data);
    };
    this.#channel.onopen = () => options.onCanSay();
    pc.onicecandidate = ({ candidate }) => {
      const plain = candidate && {
        candidate: candidate.candidate,
        sdpMid: candidate.sdpMid,
        sdpMLineIndex: candidate.sdpMLineIndex,
        usernameFragment: candidate.usernameFragment,
      };
      options.send({ type: 'candidate', connection: this.connection, candidate: plain });
    };
    pc.onconnectionstatechange = () => options.onState(pc.connectionState);
    pc.ontrack = ({ streams, track }) => options.onStream(streams[0] ?? new MediaStream([track]));
    pc.onnegotiationneeded = () => void this.#offer();
  }

  get state(): RTCPeerConnectionState {
    return this.#pc.connectionState;
  }

  /** Begins the connection from this end, sending a track. */
  begin(track: MediaStreamTrack): void {
    this.#track = track;
    this.#pc.addTransceiver(track, { direction: 'sendrecv', streams: [new MediaStream([track])] });
  }

  /** What this end sends; the connection stays as it is. */
  async sendTrack(track: MediaStreamTrack | null): Promise<void> {
    this.#track = track;
    await this.#pc.getTransceivers()[0]?.sender.replaceTrack(track);
  }

  /** Takes a message of the other end. Messages are worked off in order; a bad one is left out. */
  receive(body: SetUp): void {
    this.#queue = this.#queue.then(() => this.#take(body)).catch((error: Error) => console.warn(`A set-up message was left out: ${error.message}`));
  }

  /** Bitrate of what this end sends, kbit/s, from now on. */
  async setBitrate(kbps: number): Promise<void> {
    const sender = this.#pc.getTransceivers()[0]?.sender;
    const parameters = sender?.getParameters();
    if (!sender || !parameters || parameters.encodings.length === 0) return;
    parameters.encodings[0].maxBitrate = kbps * 1000;
    await sender.setParameters(parameters);
  }

  setJitterTarget(milliseconds: number): void {
    const receiver = this.#pc.getTransceivers()[0]?.receiver;
    if (receiver) receiver.jitterBufferTarget = milliseconds;
  }

  /** Says something to the other end; false where the line did not take it. */
  say(what: object): boolean {
    if (this.#channel.readyState !== 'open') return false;
    try {
      this.#channel.send(JSON.stringify(what));
      return true;
    } catch {
      // A channel may be open and have no room (WebRTC 1.0, 6.2): the other end has stopped taking what it is sent, or is going.
      return false;
    }
  }

  async stats(): Promise<Record<string, unknown>[]> {
    return [...(await this.#pc.getStats()).values()] as Record<string, unknown>[];
  }

  /** Finds a new way between the two ends: the network has changed. The credentials it began with may have run out. */
  restartIce(iceServers: RTCIceServer[]): void {
    this.#pc.setConfiguration({ iceServers, bundlePolicy: 'max-bundle' });
    this.#pc.restartIce();
  }

  close(): void {
    this.#pc.onconnectionstatechange = this.#pc.onicecandidate = this.#pc.ontrack = this.#pc.onnegotiationneeded = null;
    this.#pc.close();
  }

  async #offer(): Promise<void> {
    try {
      this.#makingOffer = true;
      await this.#pc.setLocalDescription();
      this.#describe();
    } catch (error) {
      console.warn(`A line could not be offered: ${(error as Error).message}`);
    } finally {
      this.#makingOffer = false;
    }
  }

  #describe(): void {
    const { type, sdp } = this.#pc.localDescription!;
    this.#options.send({ type: 'description', connection: this.connection, description: { type, sdp: askForOpus(sdp, this.#options.wishes) } });
  }

  async #take(body: SetUp): Promise<void> {
    const pc = this.#pc;
    if (pc.signalingState === 'closed') return;
    if (body.type === 'candidate') {
      try {
        await pc.addIceCandidate(body.candidate ?? undefined);
      } catch (error) {
        if (!this.#ignoring) throw error;
      }
      return;
    }
    const { sends } = this.#options;
    const description = sends ? { ...body.description, sdp: askForOpus(body.description.sdp, sends) } : body.description;
    const collision = description.type === 'offer' && (this.#makingOffer || pc.signalingState !== 'stable');
    this.#ignoring = !this.#options.polite && collision;
    if (this.#ignoring) return;
    await pc.setRemoteDescription(description);
    if (description.type !== 'offer') return;
    const [transceiver] = pc.getTransceivers();
    if (transceiver) {
      transceiver.direction = 'sendrecv';
      await transceiver.sender.replaceTrack(this.#track);
    }
    await pc.setLocalDescription();
    this.#describe();
  }
}
