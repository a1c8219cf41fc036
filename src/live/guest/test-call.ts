import { DEFAULT_LINE } from '@/core/lines/line-settings';
import { askForOpus } from '@/core/lines/opus-sdp';

const RECORD_MS = 5000;

/**
 * Sends a microphone through the same coding as the call, here in the page, and plays back what
 * callers would hear, once. Returns a function that ends it early.
 */
export function playTestCall(
  track: MediaStreamTrack,
  onPhase: (phase: 'recording' | 'playing' | 'done' | 'failed') => void,
): () => void {
  const near = new RTCPeerConnection();
  const far = new RTCPeerConnection();
  const player = new Audio();
  const sink = new Audio();
  sink.muted = true;
  let ended = false;
  const end = (phase: 'done' | 'failed') => {
    if (ended) return;
    ended = true;
    near.close();
    far.close();
    player.pause();
    sink.srcObject = null;
    URL.revokeObjectURL(player.src);
    onPhase(phase);
  };

  const received = new Promise<MediaStream>((resolve) => {
    far.ontrack = ({ track: arrived }) => resolve(new MediaStream([arrived]));
  });
  near.onicecandidate = ({ candidate }) => void far.addIceCandidate(candidate ?? undefined).catch(() => undefined);
  far.onicecandidate = ({ candidate }) => void near.addIceCandidate(candidate ?? undefined).catch(() => undefined);

  const run = async (): Promise<void> => {
    const wishes = { stereo: false, maxAverageBitrate: DEFAULT_LINE.voiceKbps * 1000 };
    near.addTransceiver(track, { direction: 'sendonly' });
    await near.setLocalDescription();
    await far.setRemoteDescription(near.localDescription!);
    await far.setLocalDescription();
    await near.setRemoteDescription({ type: 'answer', sdp: askForOpus(far.localDescription!.sdp, wishes) });
    const stream = await received;
    // Without an element that plays it, silently, a remote stream gives Chromium's recorder nothing.
    sink.srcObject = stream;
    await sink.play();
    const recorder = new MediaRecorder(stream);
    const parts: Blob[] = [];
    recorder.ondataavailable = ({ data }) => parts.push(data);
    const stopped = new Promise((resolve) => recorder.addEventListener('stop', resolve));
    onPhase('recording');
    recorder.start();
    await new Promise((resolve) => setTimeout(resolve, RECORD_MS));
    if (ended) return;
    recorder.stop();
    await stopped;
    player.src = URL.createObjectURL(new Blob(parts, { type: recorder.mimeType }));
    player.onended = () => end('done');
    onPhase('playing');
    await player.play();
  };
  run().catch(() => end('failed'));
  return () => end('done');
}
