// Measures how smooth the page of a long take is:
//   npm run --silent load-take -- 2 16            (hours, tracks)
// Prints one JSON object: until all outlines are drawn, and the time between frames while the time axis is looked at ever
// closer, widened again, and while all tracks play, with the seconds the take's clock went on meanwhile. It has a database and a server of its own; the product must be built.
import { chromium, type Page } from '@playwright/test';
import { CHUNK_FRAMES } from '../src/core/takes/chunks';
import { connect } from '../src/server/database';
import { beginTake } from '../src/server/takes/begin-take';
import { sealTake } from '../src/server/takes/seal-take';
import { withBenchDatabase, withServer } from './bench-server';

const [hours = 2, count = 16] = process.argv.slice(2).map(Number);
/** Steps closer: from hours down to fractions of a second. */
const STEPS = 14;
const PLAY_MS = 10_000;

/** A sealed take whose outlines are all there; of its sound only one byte a chunk, which no outline needs. */
async function makeTake(database: string): Promise<{ episode: string; take: string }> {
  const pool = connect(database);
  const { rows } = await pool.query<{ id: string }>('select id from episode limit 1');
  const { take, tracks } = await beginTake(pool, rows[0].id, Array.from({ length: count }, (_, k) => ({ kind: 'voice', recorded: `voice:person-${k}`, name: `Person ${k + 1}`, channels: 1, format: 'pcm24' }) as const));
  const chunks = Math.round((hours * 3600 * 48000) / CHUNK_FRAMES);
  // 200 columns of a lowest and a highest sample, 16 bits each.
  const outline = Buffer.from(Int16Array.from({ length: 400 }, (_, k) => (k % 2 === 0 ? -1 : 1) * Math.round(9000 * Math.abs(Math.sin(k / 23)))).buffer);
  for (const track of tracks) {
    await pool.query(
      `insert into chunk (track_id, index, frames, sha256, samples, peaks, peak, sum_of_squares)
       select $1, n, $2, sha256(n::text::bytea), '\\x00', $3, 0.3, 500 from generate_series(0, $4 - 1) as n`,
      [track, CHUNK_FRAMES, outline, chunks],
    );
  }
  await sealTake(pool, { take, lengthSamples: chunks * CHUNK_FRAMES, clockAtStart: 0, clockAtCall: null, gaps: [] });
  await pool.end();
  return { episode: rows[0].id, take };
}

/** Time between frames while something is done, ms. */
async function framesDuring(page: Page, work: () => Promise<void>) {
  await page.evaluate(() => {
    const kept = window as unknown as { frames: number[]; stopFrames(): void };
    kept.frames = [];
    let on = true;
    let before = performance.now();
    const next = (now: number): void => {
      kept.frames.push(now - before);
      before = now;
      if (on) requestAnimationFrame(next);
    };
    requestAnimationFrame(next);
    kept.stopFrames = () => (on = false);
  });
  await work();
  const frames = await page.evaluate(() => {
    const kept = window as unknown as { frames: number[]; stopFrames(): void };
    kept.stopFrames();
    return kept.frames;
  });
  frames.sort((a, b) => a - b);
  const at = (share: number) => Math.round(10 * frames[Math.min(frames.length - 1, Math.floor(share * frames.length))]) / 10;
  return { median: at(0.5), share95: at(0.95), longest: at(1) };
}

const drawn = (page: Page) => page.waitForFunction((wanted) => [...document.querySelectorAll('article canvas')].filter((canvas) => (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, (canvas as HTMLCanvasElement).width, (canvas as HTMLCanvasElement).height).data.some((value) => value > 0)).length >= wanted, count, { timeout: 120_000 });

await withBenchDatabase(async (database) => {
  const { episode, take } = await makeTake(database);
  await withServer(database, async (address) => {
    const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--autoplay-policy=no-user-gesture-required'] });
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await page.addInitScript('globalThis.__name = (made) => made');
    const open = async (): Promise<number> => {
      const began = performance.now();
      await page.goto(`${address}/episodes/${episode}/takes/${take}`);
      await drawn(page);
      return Math.round(performance.now() - began);
    };
    const firstMs = await open();
    const againMs = await open();
    const closer = await framesDuring(page, async () => {
      for (let k = 0; k < STEPS; k++) await page.getByRole('button', { name: 'Look closer' }).click();
      await drawn(page);
    });
    const wider = await framesDuring(page, async () => {
      for (let k = 0; k < STEPS; k++) await page.getByRole('button', { name: 'Look wider' }).click();
      await drawn(page);
    });
    const clock = () => page.evaluate(() => [...document.querySelectorAll('main span')].map(({ textContent }) => /^(?:(\d+):)?(\d+):(\d\d)$/.exec(textContent)).find(Boolean)!.slice(1).reduce((sum, part) => 60 * sum + Number(part ?? 0), 0));
    await page.getByRole('button', { name: 'Play all' }).click();
    await page.getByRole('button', { name: 'Pause' }).waitFor();
    const from = await clock();
    const playing = await framesDuring(page, () => new Promise((resolve) => setTimeout(resolve, PLAY_MS)));
    const playedSeconds = (await clock()) - from;
    await browser.close();
    console.log(JSON.stringify({ hours, tracks: count, firstMs, againMs, betweenFramesMs: { closer, wider, playing }, playedSeconds }));
  });
});
