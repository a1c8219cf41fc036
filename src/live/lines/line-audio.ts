import { lineConnector, type AudioDesk } from '../desk/audio-desk';

/** A line's two ends at the desk's audio thread: what it carries out, and what came in. */
export interface LineAudio {
  /** The listener's mix, to be sent. */
  readonly track: MediaStreamTrack;
  /** Lets a received stream in, in place of the one before. */
  receive(stream: MediaStream): void;
  close(): void;
}

export function openLineAudio(desk: AudioDesk, place: number): LineAudio {
  const { context, node } = desk;
  const out = new MediaStreamAudioDestinationNode(context, { channelCount: 2 });
  node.connect(out, lineConnector(place));
  let source: MediaStreamAudioSourceNode | null = null;
  // Without an element that plays it, silently, a remote stream gives Web Audio nothing in Chromium.
  const element = new Audio();
  element.muted = true;
  const stop = () => {
    source?.disconnect();
    source = null;
    element.srcObject = null;
  };
  return {
    track: out.stream.getAudioTracks()[0],
    receive(stream) {
      stop();
      element.srcObject = stream;
      void element.play().catch(() => undefined);
      source = context.createMediaStreamSource(stream);
      source.connect(node, 0, lineConnector(place));
    },
    close() {
      stop();
      node.disconnect(out, lineConnector(place));
      for (const track of out.stream.getTracks()) track.stop();
    },
  };
}
