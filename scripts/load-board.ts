// Measures how smooth a board of 64 pads is while 12 of them play, against the running product:
//   npm run --silent load-board -- 20
// Prints one JSON object: time between frames, drop-outs and the share of the audio thread in use,
// while nothing plays and while the sounds do, and the share of the processors that other machines on the
// same host took meanwhile: drop-outs beside a large share say more of the host than of the board.
import { chromium } from '@playwright/test';
import { makeEpisode } from '../e2e/guests';
import { Host } from '../e2e/host';
import { runningAddress } from './lock.mjs';
import { machineShares } from './machine-time.mjs';

const seconds = Number(process.argv[2] ?? 20);
const PADS = 64;
const AT_ONCE = 12;
const KEYS = [...'1234567890hjbn'];
const address = await runningAddress();
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--autoplay-policy=no-user-gesture-required'] });
const page = await (await browser.newContext({ baseURL: address, viewport: { width: 1280, height: 800 } })).newPage();
// The functions handed to the page below were compiled with calls of this helper.
await page.addInitScript('globalThis.__name = (made) => made');
const host = new Host(page);
await makeEpisode(host, 'A full board', []);
const episode = page.url().split('/').at(-2)!;
const show = ((await (await page.request.get(`/api/episodes/${episode}`)).json()) as { episode: { showId: string } }).episode.showId;

/** A made-up sound as a 16-bit WAV file, another one for each number. */
function tone(number: number): Buffer {
  const samples = 48000 * 30;
  const file = Buffer.alloc(44 + 2 * samples);
  file.write('RIFF', 0);
  file.writeUInt32LE(36 + 2 * samples, 4);
  file.write('WAVEfmt ', 8);
  file.writeUInt32LE(16, 16);
  [1, 1].forEach((value, k) => file.writeUInt16LE(value, 20 + 2 * k));
  file.writeUInt32LE(48000, 24);
  file.writeUInt32LE(96000, 28);
  file.writeUInt16LE(2, 32);
  file.writeUInt16LE(16, 34);
  file.write('data', 36);
  file.writeUInt32LE(2 * samples, 40);
  for (let i = 0; i < samples; i++) file.writeInt16LE(Math.round(1500 * Math.sin((2 * Math.PI * (200 + 17 * number) * i) / 48000)), 44 + 2 * i);
  return file;
}

await page.getByRole('link', { name: 'Sounds', exact: true }).click();
await page.getByLabel('Sound files').waitFor({ state: 'attached' });
const made = Array.from({ length: PADS }, (_, k) => ({ name: `full-board-${k}.wav`, mimeType: 'audio/wav', buffer: tone(k) }));
const there = new Set(((await (await page.request.get(`/api/shows/${show}/sounds`)).json()) as { fileName: string }[]).map(({ fileName }) => fileName));
const missing = made.filter(({ name }) => !there.has(name));
for (let k = 0; k < missing.length; k += 16) await page.getByLabel('Sound files').setInputFiles(missing.slice(k, k + 16));
for (const { name } of made) await page.getByRole('article', { name: name.replace('.wav', ''), exact: true }).waitFor({ timeout: 300_000 });
const sounds = ((await (await page.request.get(`/api/shows/${show}/sounds`)).json()) as { id: string; fileName: string }[]).filter(({ fileName }) => fileName.startsWith('full-board-'));
const pads = sounds.slice(0, PADS).map(({ id }, k) => ({ sound: id, player: 'effects', key: KEYS[k] ?? '', mode: 'loop', again: 'stop', group: null, levelDb: -20 }));
const stored = await page.request.put(`/api/episodes/${episode}/pads`, { data: { pads }, headers: { origin: address } });
if (!stored.ok()) throw new Error(await stored.text());
await page.goto(`/episodes/${episode}/live`);
await page.getByRole('button', { name: 'Start call' }).click();
await page.getByRole('button', { name: 'End call' }).waitFor({ timeout: 60_000 });
await page.waitForFunction(() => !document.body.innerText.includes('loading …'), null, { timeout: 120_000 });
await page.waitForTimeout(5000);
const silent = await observe();
for (const key of KEYS.slice(0, AT_ONCE)) await page.keyboard.press(key);
await page.waitForTimeout(3000);
const playing = await observe();
console.log(JSON.stringify({ pads: pads.length, playing: await page.getByRole('region', { name: 'Sounds' }).getByRole('button', { pressed: true }).count(), seconds, whenSilent: silent, whilePlaying: playing }));
await host.endCall();
await browser.close();

/** Time between frames, and what the desk itself says of this machine, over a while. */
async function observe() {
  const before = await machine();
  const shares = machineShares();
  const frames = await page.evaluate(
    (ms) =>
      new Promise<number[]>((resolve) => {
        const gaps: number[] = [];
        let last = performance.now();
        const end = last + ms;
        requestAnimationFrame(function next(now) {
          gaps.push(now - last);
          last = now;
          if (now < end) requestAnimationFrame(next);
          else resolve(gaps);
        });
      }),
    seconds * 1000,
  );
  const after = await machine();
  const takenByOthersPercent = Math.round(100 * (shares()?.taken ?? NaN));
  frames.sort((a, b) => a - b);
  const at = (share: number) => Number(frames[Math.floor(frames.length * share)].toFixed(1));
  return { msBetweenFrames: { median: at(0.5), ninetyFive: at(0.95), longest: at(0.999) }, mixingPercent: after.percent, dropOuts: after.dropOuts - before.dropOuts, takenByOthersPercent };
}

/** What the desk itself says of this machine. */
async function machine(): Promise<{ percent: number; dropOuts: number }> {
  const note = await page.getByRole('note', { name: 'This machine' }).innerText();
  return { percent: Number(/(\d+) %/.exec(note)?.[1] ?? NaN), dropOuts: Number(/(\d+) drop-outs/.exec(note)?.[1] ?? 0) };
}
