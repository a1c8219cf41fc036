import { LARGEST_FILE_BYTES, LONGEST_SOUND_SAMPLES, type LibrarySound } from '@/core/sounds/library-sound';
import type { SoundSettings } from '@/core/sounds/sound-settings';
import { levellingGainDb, type SoundKind } from '@/core/sounds/sound-kind';
import { ServerError } from '../api';
import type { FromImport, ImportRequest } from './import.worker';

/** A file cannot become a sound; the message is a sentence for the host. */
export class ImportError extends Error {}

export interface ImportOptions {
  show: string;
  kind: SoundKind;
  /** The show's: levels and ceiling. */
  settings: SoundSettings;
  signal: AbortSignal;
  /** Share done, 0 to 1. */
  onProgress(share: number): void;
}

const LONGEST_SECONDS = LONGEST_SOUND_SAMPLES / 48000;

/**
 * Brings a file into a show's library: decoded at 48 kHz by the browser, folded to stereo, measured,
 * kept as FLAC. The file itself is not changed. @throws {ImportError} saying why not
 */
export async function importSound(file: File, options: ImportOptions): Promise<LibrarySound> {
  const name = file.name.replace(/\.[^.]*$/, '').trim() || 'Sound';
  if (file.size === 0) throw new ImportError(`“${file.name}” is empty.`);
  if (file.size > LARGEST_FILE_BYTES) throw new ImportError(`“${file.name}” has ${Math.round(file.size / 1e6)} MB; files up to ${LARGEST_FILE_BYTES / 1e6} MB are taken.`);
  // A file of many hours would not fit into memory once decoded: its length is asked for first.
  const seconds = await durationOf(file);
  if (seconds > LONGEST_SECONDS) throw tooLong(file.name, seconds);
  const bytes = await file.arrayBuffer();
  const originalSha256 = hex(await crypto.subtle.digest('SHA-256', bytes));
  options.signal.throwIfAborted();
  const buffer = await decode(file.name, bytes);
  if (buffer.length > LONGEST_SOUND_SAMPLES) throw tooLong(file.name, buffer.duration);
  const channels = Array.from({ length: buffer.numberOfChannels }, (_, k) => buffer.getChannelData(k).slice());
  const { flac, measures } = await measured(channels, options);
  const { integratedLufs, shortTermLufs, truePeakDb, headSilenceSamples, tailSilenceSamples } = measures;
  const query = new URLSearchParams({
    name: name.slice(0, 80),
    kind: options.kind,
    fileName: file.name.slice(0, 200),
    originalSha256,
    ...finite({ integratedLufs, shortTermLufs, truePeakDb }),
    headSilenceSamples: String(headSilenceSamples),
    tailSilenceSamples: String(tailSilenceSamples),
    gainDb: String(levellingGainDb(options.settings.levels[options.kind], options.settings.ceilingDbtp, integratedLufs, truePeakDb)),
  });
  return store(`/api/shows/${options.show}/sounds?${query}`, flac, options.signal);
}

/** Length as the browser reads it from the file's head, s; 0 where it cannot tell. */
function durationOf(file: File): Promise<number> {
  const url = URL.createObjectURL(file);
  const player = new Audio();
  return new Promise<number>((resolve) => {
    player.preload = 'metadata';
    player.onloadedmetadata = () => resolve(Number.isFinite(player.duration) ? player.duration : 0);
    player.onerror = () => resolve(0);
    player.src = url;
  }).finally(() => URL.revokeObjectURL(url));
}

async function decode(name: string, bytes: ArrayBuffer): Promise<AudioBuffer> {
  try {
    return await new OfflineAudioContext(1, 1, 48000).decodeAudioData(bytes);
  } catch {
    throw new ImportError(`“${name}” is not a sound this browser can read, or it is broken. WAV, FLAC, MP3, AAC and Opus are.`);
  }
}

function measured(channels: Float32Array[], { signal, onProgress }: ImportOptions): Promise<Extract<FromImport, { type: 'done' }>> {
  const worker = new Worker(new URL('../generated/import.worker.js', import.meta.url));
  return new Promise<Extract<FromImport, { type: 'done' }>>((resolve, reject) => {
    const fail = (message: string) => reject(new ImportError(message));
    signal.addEventListener('abort', () => reject(signal.reason as Error), { once: true });
    worker.onmessage = ({ data }: MessageEvent<FromImport>) => {
      if (data.type === 'progress') onProgress(data.share);
      else if (data.type === 'done') resolve(data);
      else fail(`The sound could not be measured. ${data.message}`);
    };
    worker.onerror = worker.onmessageerror = () => fail('The sound could not be measured: the worker stopped.');
    worker.postMessage({ channels } satisfies ImportRequest, channels.map(({ buffer }) => buffer));
  }).finally(() => worker.terminate());
}

async function store(url: string, flac: Uint8Array<ArrayBuffer>, signal: AbortSignal): Promise<LibrarySound> {
  const response = await fetch(url, { method: 'POST', headers: { 'content-type': 'audio/flac' }, body: flac, signal });
  const answer = (await response.json().catch(() => ({}))) as LibrarySound & { code?: string; message?: string };
  if (!response.ok) throw new ServerError(response.status, answer.code ?? 'unknown', answer.message ?? `The server answered ${response.status}.`);
  return answer;
}

const tooLong = (name: string, seconds: number) =>
  new ImportError(`“${name}” lasts ${Math.round(seconds / 60)} minutes; a sound for a pad may last ${LONGEST_SECONDS / 60}. Cut it first.`);

const finite = (values: Record<string, number>): Record<string, string> =>
  Object.fromEntries(Object.entries(values).filter(([, value]) => Number.isFinite(value)).map(([name, value]) => [name, String(value)]));

const hex = (bytes: ArrayBuffer): string => Array.from(new Uint8Array(bytes), (byte) => byte.toString(16).padStart(2, '0')).join('');
