/** The host's microphone, or why there is none. */
export type MicrophoneResult =
  | { found: true; microphone: Microphone }
  | { found: false; reason: string };

export interface Microphone {
  node: MediaStreamAudioSourceNode;
  label: string;
  deviceId: string;
  close(): void;
}

/**
 * Opens a microphone by its id; without one, the device the browser offers, from then on held by
 * its id. Sound is taken as it is: whatever the browser would do to it cannot be undone later.
 */
export async function openMicrophone(
  context: AudioContext,
  deviceId: string | null,
  onLost: () => void,
): Promise<MicrophoneResult> {
  let stream: MediaStream;
  try {
    stream = await navigator.mediaDevices.getUserMedia({
      audio: {
        ...(deviceId === null ? {} : { deviceId: { exact: deviceId } }),
        echoCancellation: false,
        noiseSuppression: false,
        autoGainControl: false,
        sampleRate: context.sampleRate,
      },
    });
  } catch (error) {
    return { found: false, reason: reasonFor(error as DOMException) };
  }
  const [track] = stream.getAudioTracks();
  track.addEventListener('ended', onLost);
  const node = context.createMediaStreamSource(stream);
  return {
    found: true,
    microphone: {
      node,
      label: track.label || 'microphone',
      deviceId: track.getSettings().deviceId ?? '',
      close() {
        track.removeEventListener('ended', onLost);
        node.disconnect();
        track.stop();
      },
    },
  };
}

function reasonFor(error: DOMException): string {
  switch (error.name) {
    case 'NotAllowedError':
      return 'the browser was not allowed to use a microphone';
    case 'NotFoundError':
    case 'OverconstrainedError':
      return 'no microphone was found';
    case 'NotReadableError':
      return 'another program holds the microphone';
    default:
      return `the microphone could not be opened (${error.message})`;
  }
}
