import { loadSound } from '../desk/sound-files';
import type { ListenerId } from '@/core/hearing/ids';
import type { Patchbay } from '../patch/patchbay';
import type { AudioDesk } from '../desk/audio-desk';

/** Sound of the computer as a stream. */
export interface ShareStream {
  stream: MediaStream;
  /** What is shared, as the browser names it. */
  label: string;
  /** Ends what had to be set up for it. */
  close(): void;
}

/** The share did not come about; the message is a sentence for the host. */
export class ShareError extends Error {}

/** What newer browsers understand beyond the standard library's types. */
interface SoundShareOptions extends DisplayMediaStreamOptions {
  systemAudio?: 'include' | 'exclude';
  selfBrowserSurface?: 'include' | 'exclude';
  surfaceSwitching?: 'include' | 'exclude';
}

/**
 * Asks the browser for the sound of a tab, a window or the whole computer: as it is, without the
 * browser's own processing, and not played here a second time where that can be had.
 * @throws {ShareError} when there is none
 */
export async function askForShare(): Promise<ShareStream> {
  if (!('getDisplayMedia' in (navigator.mediaDevices ?? {}))) {
    throw new ShareError('This browser cannot share the sound of a tab or of the computer. A current Chromium can.');
  }
  const options: SoundShareOptions = {
    // Browsers share sound only together with a picture; the picture is not used.
    video: { width: 320, height: 180, frameRate: 1 },
    audio: {
      echoCancellation: false,
      noiseSuppression: false,
      autoGainControl: false,
      channelCount: 2,
      suppressLocalAudioPlayback: true,
    } as MediaTrackConstraints,
    systemAudio: 'include',
    selfBrowserSurface: 'exclude',
    surfaceSwitching: 'exclude',
  };
  const stream = await navigator.mediaDevices.getDisplayMedia(options).catch((error: DOMException) => {
    throw new ShareError(error.name === 'NotAllowedError' ? 'Nothing is shared: you chose nothing, or the browser may not.' : `The browser could not share: ${error.message}`);
  });
  const [track] = stream.getAudioTracks();
  if (!track) {
    for (const one of stream.getTracks()) one.stop();
    throw new ShareError('What you chose came without sound. Choose a tab, and turn on “share its sound” where the browser asks.');
  }
  for (const picture of stream.getVideoTracks()) picture.enabled = false;
  return {
    stream,
    label: stream.getVideoTracks()[0]?.label || track.label || 'shared sound',
    close: () => {
      for (const one of stream.getTracks()) one.stop();
    },
  };
}

/** How late a computer's own sound comes back when it is shared. */
const LOOP_SECONDS = 0.12;

/**
 * A stand-in for another program's sound, for practice and tests: music that goes round; with
 * `contains`, the host's phones as well, as when the whole computer's sound is shared.
 */
export async function simulateShare({ context }: AudioDesk, patchbay: Patchbay, contains: ListenerId | null): Promise<ShareStream> {
  const player = context.createBufferSource();
  player.buffer = await loadSound(context, '/practice/sounds/opening-theme.flac');
  player.loop = true;
  const destination = context.createMediaStreamDestination();
  const level = new GainNode(context, { gain: 0.4 });
  player.connect(level).connect(destination);
  const delay = new DelayNode(context, { delayTime: LOOP_SECONDS });
  const untap = contains && patchbay.tap(contains, delay);
  delay.connect(destination);
  player.start();
  return {
    stream: destination.stream,
    label: contains ? 'made-up computer sound that contains this call' : 'made-up music from another program',
    close: () => {
      player.stop();
      level.disconnect();
      delay.disconnect();
      untap?.();
      for (const track of destination.stream.getTracks()) track.stop();
    },
  };
}
