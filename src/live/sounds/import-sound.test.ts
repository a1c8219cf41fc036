import { createHash } from 'node:crypto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { LARGEST_FILE_BYTES, LONGEST_SOUND_SAMPLES } from '@/core/sounds/library-sound';
import { DEFAULT_SOUND_SETTINGS } from '@/core/sounds/sound-settings';
import { importSound } from './import-sound';
import type { FromImport } from './import.worker';

const MEASURES = { integratedLufs: -20, shortTermLufs: -18, truePeakDb: -6, headSilenceSamples: 48, tailSilenceSamples: 96 };
const BYTES = Uint8Array.of(1, 2, 3);

describe('bringing a file in', () => {
  let duration: number;
  let decoded: { length: number; channels: number } | null;
  let worker: { onmessage: (event: { data: FromImport }) => void; onerror: () => void; terminated: boolean };
  let measures: Record<string, number>;
  let work: 'done' | 'broken' | 'slow';
  const stored: URLSearchParams[] = [];
  let answer: () => Response;

  beforeEach(() => {
    [duration, decoded, work, measures] = [2, { length: 96_000, channels: 2 }, 'done', MEASURES];
    stored.length = 0;
    answer = () => Response.json({ id: 's' });
    vi.stubGlobal('URL', Object.assign(URL, { createObjectURL: () => 'blob:x', revokeObjectURL: () => undefined }));
    vi.stubGlobal(
      'Audio',
      class {
        duration = duration;
        onloadedmetadata = () => undefined;
        onerror = () => undefined;
        set src(_: string) {
          queueMicrotask(() => (duration < 0 ? this.onerror() : this.onloadedmetadata()));
        }
      },
    );
    vi.stubGlobal(
      'OfflineAudioContext',
      class {
        decodeAudioData = () => {
          if (!decoded) return Promise.reject(new Error('Unable to decode'));
          const { length, channels } = decoded;
          return Promise.resolve({ length, duration: length / 48000, numberOfChannels: channels, getChannelData: () => new Float32Array(8) });
        };
      },
    );
    vi.stubGlobal(
      'Worker',
      class {
        onmessage: (event: { data: FromImport }) => void = () => undefined;
        onerror = () => undefined;
        terminated = false;
        constructor() {
          worker = this as unknown as typeof worker;
        }
        terminate = () => (this.terminated = true);
        postMessage() {
          queueMicrotask(() => {
            this.onmessage({ data: { type: 'progress', share: 0.5 } });
            if (work === 'broken') this.onerror();
            if (work === 'done') this.onmessage({ data: { type: 'done', flac: BYTES, measures } as unknown as FromImport });
          });
        }
      },
    );
    vi.stubGlobal('fetch', (url: string) => {
      stored.push(new URLSearchParams(url.slice(url.indexOf('?'))));
      return Promise.resolve(answer());
    });
  });
  afterEach(() => vi.unstubAllGlobals());

  const abort = new AbortController();
  const bring = (file: File, signal = abort.signal) => importSound(file, { show: 's1', kind: 'clip', settings: DEFAULT_SOUND_SETTINGS, signal, onProgress: () => undefined });
  const file = (name: string) => new File([BYTES], name);

  it('keeps what was measured, under its name without the ending and by the hash of the file as it was', async () => {
    expect(await bring(file(' ship.bell.wav'))).toEqual({ id: 's' });
    expect(Object.fromEntries(stored[0])).toMatchObject({
      name: 'ship.bell',
      fileName: ' ship.bell.wav',
      originalSha256: createHash('sha256').update(BYTES).digest('hex'),
      integratedLufs: '-20',
      headSilenceSamples: '48',
    });
    expect(Number.isFinite(Number(stored[0].get('gainDb')))).toBe(true);
    expect(worker.terminated).toBe(true);
  });

  it('leaves out what could not be measured: silence has no loudness', async () => {
    measures = { ...MEASURES, integratedLufs: -Infinity, shortTermLufs: -Infinity, truePeakDb: -Infinity };
    await bring(file('silence.wav'));
    expect(['integratedLufs', 'shortTermLufs', 'truePeakDb'].map((name) => stored[0].get(name))).toEqual([null, null, null]);
  });

  it('refuses before it is read what is empty, too large, or too long', async () => {
    await expect(bring(new File([], 'nothing.wav'))).rejects.toThrow('“nothing.wav” is empty.');
    const large = Object.defineProperty(file('huge.wav'), 'size', { value: LARGEST_FILE_BYTES + 1 });
    await expect(bring(large)).rejects.toThrow(/“huge.wav” has \d+ MB/);
    duration = LONGEST_SOUND_SAMPLES / 48000 + 60;
    await expect(bring(file('night.mp3'))).rejects.toThrow('Cut it first.');
    // Where the head of the file does not tell, what was decoded does.
    duration = -1;
    decoded = { length: LONGEST_SOUND_SAMPLES + 1, channels: 1 };
    await expect(bring(file('night.ogg'))).rejects.toThrow('Cut it first.');
    expect(stored).toEqual([]);
  });

  it('says what is no sound, what the server says, and that the measuring broke off', async () => {
    decoded = null;
    await expect(bring(file('letter.pdf'))).rejects.toThrow('“letter.pdf” is not a sound this browser can read');
    decoded = { length: 8, channels: 1 };
    answer = () => Response.json({ code: 'known', message: 'This sound is in the library already.' }, { status: 409 });
    await expect(bring(file('a.wav'))).rejects.toThrow('This sound is in the library already.');
    work = 'broken';
    await expect(bring(file('a.wav'))).rejects.toThrow('the worker stopped');
    expect(worker.terminated).toBe(true);
  });

  it('stops when it is told to, wherever it is', async () => {
    work = 'slow';
    const stop = new AbortController();
    const bringing = bring(file('a.wav'), stop.signal);
    await vi.waitFor(() => expect(worker.terminated).toBe(false));
    stop.abort(new Error('Stopped.'));
    await expect(bringing).rejects.toThrow('Stopped.');
    expect(stored).toEqual([]);
  });
});
