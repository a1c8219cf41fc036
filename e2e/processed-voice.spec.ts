import type { Page } from '@playwright/test';
import { createKernel } from '../src/core/kernel/kernel';
import { Strip, STRIP_BYTES } from '../src/core/engine/strip/strip';
import { CLOSED_STRIP, withInsert } from '../src/core/strip/settings';
import { expect, test } from './host';
import { downloadAll, rmsDb, trackOf } from './take-files';

const BLOCK = 128;

/** What a strip makes of a track. */
function throughStrip(voice: Float32Array): Float32Array {
  const kernel = createKernel(BLOCK, STRIP_BYTES + 3 * (2 * BLOCK * 4 + 16));
  const strip = new Strip(kernel, BLOCK, 48_000);
  strip.set(withInsert(withInsert(CLOSED_STRIP, 'lowCut', { on: true }), 'compressor', { on: true }));
  const [input, output, scratch] = [kernel.stereo(), kernel.stereo(), kernel.stereo()];
  const out = new Float32Array(voice.length);
  for (let at = 0; at < voice.length; at += BLOCK) {
    const piece = voice.subarray(at, at + BLOCK);
    input.left.set(piece);
    input.right.set(piece);
    strip.process(input, output, scratch, piece.length);
    out.set(output.left.subarray(0, piece.length), at);
  }
  return out;
}

/** Leaves the episode as other tests know it. */
async function everythingOff(page: Page): Promise<void> {
  await page.getByRole('button', { name: /^What is done to Odalys/ }).click();
  const strip = page.getByRole('dialog', { name: /^Odalys: what is done/ });
  const kept = page.waitForResponse((response) => response.url().endsWith('/plan') && response.ok());
  await strip.getByRole('button', { name: 'Everything off' }).click();
  await kept;
  await strip.getByRole('button', { name: 'Close' }).click();
  await expect(page.getByRole('button', { name: 'What is done to Odalys: as it comes' })).toBeVisible();
}

test('a voice is processed for the mixes: its track stays as it came in, and a second one is what the mixes got', async ({ host, page }) => {
  await host.openDesk();
  await page.getByRole('link', { name: 'Hearing', exact: true }).click();
  await page.getByRole('rowheader', { name: /^Odalys/ }).getByRole('button').click();
  await page.getByRole('button', { name: /^What is done to Odalys/ }).click();
  const strip = page.getByRole('dialog', { name: /^Odalys: what is done/ });
  await strip.getByText('Low cut', { exact: true }).click();
  await strip.getByText('Even out', { exact: true }).click();
  await expect(strip.getByRole('slider', { name: 'Ratio, even out' })).toHaveAttribute('aria-valuetext', '3 : 1');
  await strip.getByRole('button', { name: 'Close' }).click();
  await host.openSettings();
  await page.getByText('Record voices as they go into the mixes too').click();
  await expect(page.getByRole('list', { name: 'Tracks of the next take' })).toContainText('Odalys Brandt, processed');
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  await host.record();
  // Callers take turns: what is compared is what she says.
  await host.untilRecorded(2);
  await expect(host.lane('Odalys')).toContainText(/−[1-3]\d\S* ?LUFS/, { timeout: 60_000 });
  await host.untilRecorded((await host.recordedSeconds()) + 4);
  await host.stop();
  await host.endCall();

  await host.openNewestTake();
  await expect(page.getByRole('article', { name: 'Odalys Brandt, voice, as mixed' })).toBeVisible();
  const files = await downloadAll(page);
  const [[voice], [processed]] = ['Odalys-Brandt_voice', 'Odalys-Brandt_processed'].map((name) => trackOf(files, name));
  expect(processed.length).toBe(voice.length);
  const expected = throughStrip(voice);
  // The desk's strip had heard what came before the take; a second later that is forgotten.
  const later = (samples: Float32Array) => samples.subarray(48_000);
  expect(rmsDb(later(expected).map((sample, i) => sample - later(processed)[i]))).toBeLessThan(-90);
  expect(rmsDb(later(voice)) - rmsDb(later(processed))).toBeGreaterThan(0.5);
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await everythingOff(page);
});

test('a strip is set by listening, says why, and is compared with the voice as it comes in', async ({ host, page }) => {
  await host.openDesk();
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  await page.getByRole('article', { name: 'Odalys' }).getByRole('button', { name: /^What is done to Odalys/ }).click();
  const strip = page.getByRole('dialog', { name: /^Odalys: what is done/ });
  await strip.getByRole('button', { name: 'Set it for me' }).click();
  await expect(strip.getByText('Set by what was heard')).toBeVisible({ timeout: 60_000 });
  await expect(strip.getByRole('region', { name: 'Even out' })).toContainText(/Quiet and loud words are \d+ dB apart/);
  await expect(strip.getByRole('region', { name: 'Low cut' })).toContainText(/not voice|most voices/);
  // What it does is measured while somebody speaks.
  await expect(strip.getByRole('region', { name: 'Even out' }).getByText(/^−\d+(\.5)? dB$/).first()).toBeVisible({ timeout: 30_000 });

  const compare = strip.getByRole('group', { name: 'Hear the difference' });
  await compare.getByRole('button', { name: 'Without' }).click();
  await expect(compare.getByText(/^As it comes in, [+−]?\d+(\.5)? dB: as loud as with its strip\.$/)).toBeVisible({ timeout: 15_000 });
  await compare.getByRole('button', { name: 'With', exact: true }).click();
  await expect(compare.getByRole('button', { name: 'With', exact: true })).toHaveAttribute('aria-pressed', 'true');

  // The network that suppresses noise is fetched from here, measured, and does it.
  await strip.getByText('Noise suppression', { exact: true }).click();
  await expect(strip.getByText(/It comes 20 ms later/)).toBeVisible();
  await strip.getByRole('button', { name: 'Close' }).click();
  await expect(page.getByRole('button', { name: /^What is done to Odalys: .*noise suppressed/ })).toBeVisible();
  await expect(page.getByRole('alert').filter({ hasText: 'Noise suppression' })).toHaveCount(0);
  await host.endCall();
  await everythingOff(page);
});
