import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from './host';
import { makeEpisode } from './guests';

const folder = mkdtempSync(join(tmpdir(), 'sounds-'));
test.afterAll(() => rmSync(folder, { recursive: true }));

const SECONDS = 4;
/** The library knows sounds by what they hold, and keeps what an earlier try brought in: every try has a pitch of its own. */
const PITCH = (Date.now() % 4001) / 1000;
/** A made-up sound that begins and ends in silence: what decoders of lossy files do at an edge is their own affair. */
const tune = (hertz: number, rate: number, channels: number) =>
  `aevalsrc='${Array.from({ length: channels }, (_, k) => `0.5*sin(2*PI*${hertz + PITCH + 7 * k}*t)*sin(PI*t/${SECONDS})*(0.6+0.4*sin(2*PI*3*t))`).join('|')}:s=${rate}:d=${SECONDS}'`;

function make(name: string, hertz: number, rate: number, channels: number, words: string[]): string {
  const path = join(folder, name);
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', tune(hertz, rate, channels), '-metadata', `comment=${name}`, ...words, path]);
  return path;
}

/** Loudness and true peak by ffmpeg's ebur128. */
function reference(path: string): { lufs: number; peak: number } {
  const text = execFileSync('sh', ['-c', `ffmpeg -hide_banner -nostats -i '${path}' -af aresample=48000,ebur128=peak=true -f null - 2>&1`], { encoding: 'utf8' });
  const summary = text.slice(text.lastIndexOf('Summary:'));
  return { lufs: Number(/I:\s+(-?[\d.]+) LUFS/.exec(summary)![1]), peak: Number(/Peak:\s+(-?[\d.]+) dBFS/.exec(summary)![1]) };
}

const number = (text: string, pattern: RegExp) => Number(pattern.exec(text)![1].replace('−', '-'));

// The same sound twice is refused by the server, in words.
test.use({ tolerated: [/409/] });

test('sounds of every kind are brought in, measured, levelled and put on keys; what is no sound says why', async ({ host, page }) => {
  await makeEpisode(host, 'Sounds of the quay', []);
  await page.getByRole('link', { name: 'Sounds', exact: true }).click();
  const panel = page.getByRole('region', { name: 'Library' });
  const bring = (...paths: string[]) => panel.getByLabel('Sound files').setInputFiles(paths);
  // And names of its own.
  const mark = Date.now().toString(36);
  const files = [
    make(`wave24-${mark}.wav`, 400, 48000, 2, ['-c:a', 'pcm_s24le']),
    make(`eight-${mark}.wav`, 510, 22050, 1, ['-c:a', 'pcm_u8']),
    make(`fast-${mark}.wav`, 620, 192000, 2, ['-c:a', 'pcm_s16le']),
    make(`six-${mark}.wav`, 730, 48000, 6, ['-c:a', 'pcm_s16le']),
    make(`lossless-${mark}.flac`, 840, 44100, 2, []),
    make(`layer3-${mark}.mp3`, 950, 44100, 2, ['-b:a', '192k']),
    make(`advanced-${mark}.m4a`, 1060, 44100, 2, ['-c:a', 'aac', '-b:a', '192k']),
    make(`interactive-${mark}.opus`, 1170, 48000, 2, ['-c:a', 'libopus', '-b:a', '128k']),
  ];
  await bring(...files);
  for (const [k, path] of files.entries()) {
    const name = path.split('/').at(-1)!.replace(/\..*/, '');
    const row = panel.getByRole('article', { name });
    await expect(row).toContainText('0:04', { timeout: 60_000 });
    // Six channels are folded before they are measured, which ffmpeg does otherwise.
    if (k === 3) continue;
    const text = await row.innerText();
    const { lufs, peak } = reference(path);
    // Both numbers are rounded to tenths; decoders of lossy files disagree about their first and last blocks.
    const lossy = k > 4;
    expect(Math.abs(number(text, /(−?[\d.]+) LUFS/) - lufs), `loudness of ${name}`).toBeLessThanOrEqual(lossy ? 0.35 : 0.15);
    expect(Math.abs(number(text, /peak (−?[\d.]+) dBTP/) - peak), `true peak of ${name}`).toBeLessThanOrEqual(lossy ? 0.4 : 0.25);
  }

  const broken = join(folder, 'broken.wav');
  writeFileSync(broken, Buffer.from('RIFF....WAVEfmt and then nothing that makes sense'));
  const empty = join(folder, 'empty.mp3');
  writeFileSync(empty, '');
  const long = join(folder, 'long.flac');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'anullsrc=r=8000:cl=mono', '-t', '10800', long]);
  const mislabelled = join(folder, `really-an-mp3-${mark}.wav`);
  execFileSync('cp', [make(`other-${mark}.mp3`, 1280, 44100, 1, ['-b:a', '96k']), mislabelled]);
  await bring(broken, empty, long, mislabelled, files[0]);
  await expect(panel.getByText('“broken.wav” is not a sound this browser can read, or it is broken.')).toBeVisible();
  await expect(panel.getByText('“empty.mp3” is empty.')).toBeVisible();
  await expect(panel.getByText(/“long.flac” lasts 180 minutes; a sound for a pad may last 60/)).toBeVisible();
  const wave = `wave24-${mark}`;
  await expect(panel.getByText(`This sound is in the library already, as “${wave}”.`)).toBeVisible();
  await expect(panel.getByRole('article', { name: `really-an-mp3-${mark}` })).toContainText('0:04');

  // On a pad, by a key of one's own choice, in a running call.
  await host.startCall();
  await panel.getByRole('button', { name: `Put ${wave} on a pad` }).click();
  const board = page.getByRole('region', { name: 'Board of this episode' });
  const pad = board.getByRole('article', { name: `Pad ${wave}` });
  await pad.getByLabel(`Key of ${wave}`).press('c');
  await expect(board.getByText(/^C is taken: Cough/)).toBeVisible();
  await pad.getByLabel(`Key of ${wave}`).press('9');
  await expect(pad.getByLabel(`Key of ${wave}`)).toHaveValue('9');
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Lanes' })).toBeVisible();
  await page.keyboard.press('9');
  await expect(host.pad(wave)).toHaveAttribute('aria-pressed', 'true');
  await expect(host.pad(wave)).toHaveAttribute('aria-pressed', 'false', { timeout: 10_000 });
  await host.endCall();
});
