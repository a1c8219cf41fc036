import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { createWavReader } from '../src/core/formats/wav/reader';

/** A downloaded track, by the name of its file. */
export interface TrackFile {
  name: string;
  channels: Float32Array[];
}

/** Downloads the open take as a ZIP; gives its path. */
export async function downloadZip(page: Page): Promise<string> {
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Download all tracks (ZIP)' }).click(),
  ]);
  const zip = join(mkdtempSync(join(tmpdir(), 'take-')), 'take.zip');
  await download.saveAs(zip);
  return zip;
}

/** Downloads the open take and reads every track of it. */
export const downloadAll = async (page: Page): Promise<TrackFile[]> => tracksIn(await downloadZip(page));

/** Reads every track in a ZIP with the system's unzip. */
export function tracksIn(zip: string): TrackFile[] {
  const folder = mkdtempSync(join(tmpdir(), 'tracks-'));
  execFileSync('unzip', ['-q', zip, '-d', folder]);
  return readdirSync(folder)
    .filter((name) => name.endsWith('.wav'))
    .sort()
    .map((name) => ({ name, channels: readWav(join(folder, name)) }));
}

/** One voice of the open take, as it came in. */
export async function downloadTrack(page: Page, name: string): Promise<Float32Array> {
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: `Download ${name}, voice, as received, as WAV` }).click()]);
  return readWav(await download.path())[0];
}

export function readWav(path: string): Float32Array[] {
  const reader = createWavReader();
  const channels = reader.push(readFileSync(path));
  reader.close();
  return channels;
}

/** The track whose file name holds the given words. */
export function trackOf(files: readonly TrackFile[], words: string): Float32Array[] {
  const found = files.find(({ name }) => name.includes(words));
  if (!found) throw new Error(`No track is named after ${words}: ${files.map(({ name }) => name).join(', ')}`);
  return found.channels;
}

/** Normalised correlation of two signals of one length; 1 for the same sound at any level. */
export function correlation(a: Float32Array, b: Float32Array): number {
  let ab = 0;
  let aa = 0;
  let bb = 0;
  for (let i = 0; i < a.length; i++) {
    ab += a[i] * b[i];
    aa += a[i] * a[i];
    bb += b[i] * b[i];
  }
  return aa === 0 || bb === 0 ? 0 : ab / Math.sqrt(aa * bb);
}

export function rmsDb(samples: Float32Array): number {
  return 10 * Math.log10(samples.reduce((sum, x) => sum + x * x, 0) / samples.length);
}
