import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { PeerLine, type SetUp } from './peer-line';

const SDP = 'v=0\r\nm=audio 9 UDP/TLS/RTP/SAVPF 111\r\na=rtpmap:111 opus/48000/2\r\n';

/** A browser’s connection that only notes what it is asked for. */
class FakeConnection {
  static made: FakeConnection;
  connectionState = 'connected';
  signalingState = 'stable';
  localDescription: { type: string; sdp: string } | null = null;
  readonly remote: string[] = [];
  readonly candidates: unknown[] = [];
  onnegotiationneeded: (() => void) | null = null;
  readonly channel = {
    readyState: 'open',
    full: false,
    sent: [] as string[],
    onmessage: null as ((event: { data: unknown }) => void) | null,
    send(text: string): void {
      if (this.full) throw new DOMException('no room', 'OperationError');
      this.sent.push(text);
    },
  };
  constructor() {
    FakeConnection.made = this;
  }
  createDataChannel = () => this.channel;
  getTransceivers = () => [];
  setLocalDescription(): Promise<void> {
    this.localDescription = { type: this.signalingState === 'have-remote-offer' ? 'answer' : 'offer', sdp: SDP };
    this.signalingState = this.localDescription.type === 'answer' ? 'stable' : 'have-local-offer';
    return Promise.resolve();
  }
  setRemoteDescription({ type }: { type: string }): Promise<void> {
    this.remote.push(type);
    this.signalingState = type === 'offer' ? 'have-remote-offer' : 'stable';
    return Promise.resolve();
  }
  addIceCandidate(candidate: unknown): Promise<void> {
    if (candidate === 'bad') return Promise.reject(new Error('no such line'));
    this.candidates.push(candidate);
    return Promise.resolve();
  }
}

describe('a peer line', () => {
  const sent: SetUp[] = [];
  const said: string[] = [];
  const lineThat = (polite: boolean): { line: PeerLine; pc: FakeConnection } => {
    const wishes = { stereo: false, kbps: 64 } as never;
    const line = new PeerLine({ connection: 'c', polite, iceServers: [], wishes, send: (body) => sent.push(body), onStream: () => undefined, onState: () => undefined, onSaid: (text) => said.push(text), onCanSay: () => undefined });
    return { line, pc: FakeConnection.made };
  };
  const offer = { type: 'description', connection: 'c', description: { type: 'offer', sdp: SDP } } as SetUp;
  const worked = () => vi.waitFor(() => expect(sent.length).toBeGreaterThan(0));

  beforeEach(() => {
    sent.length = said.length = 0;
    vi.stubGlobal('RTCPeerConnection', FakeConnection);
  });
  afterEach(() => {
    vi.unstubAllGlobals();
    vi.restoreAllMocks();
  });

  it('says whether the other end was told, also where an open channel has no room', () => {
    const { line, pc } = lineThat(true);
    expect([line.say({ n: 1 }), pc.channel.sent]).toEqual([true, ['{"n":1}']]);
    pc.channel.full = true;
    expect(line.say({ n: 2 })).toBe(false);
    pc.channel.full = false;
    pc.channel.readyState = 'closing';
    expect([line.say({ n: 3 }), pc.channel.sent.length]).toEqual([false, 1]);
  });

  it('takes short texts only', () => {
    const { pc } = lineThat(true);
    for (const data of ['short', 'x'.repeat(8001), new ArrayBuffer(4)]) pc.channel.onmessage!({ data });
    expect(said).toEqual(['short']);
  });

  it('of two ends that offer at once, the polite one gives way and the other goes on', async () => {
    const polite = lineThat(true);
    polite.pc.onnegotiationneeded!();
    await worked();
    polite.line.receive(offer);
    await vi.waitFor(() => expect(sent.at(-1)).toMatchObject({ description: { type: 'answer' } }));
    expect(polite.pc.remote).toEqual(['offer']);

    sent.length = 0;
    const other = lineThat(false);
    other.pc.onnegotiationneeded!();
    await worked();
    other.line.receive(offer);
    other.line.receive({ ...offer, description: { type: 'answer', sdp: SDP } } as SetUp);
    await vi.waitFor(() => expect(other.pc.remote).toEqual(['answer']));
    expect(sent).toHaveLength(1);
  });

  it('leaves a bad message out, says so, and takes the next', async () => {
    const warned = vi.spyOn(console, 'warn').mockImplementation(() => undefined);
    const { line, pc } = lineThat(true);
    for (const candidate of ['bad', 'good']) line.receive({ type: 'candidate', connection: 'c', candidate } as never);
    await vi.waitFor(() => expect(pc.candidates).toEqual(['good']));
    expect(warned.mock.calls.flat().join()).toContain('no such line');
  });
});
