// Holds a whole desk for hours and watches what it costs: guests by link, a line by devices, practice callers, sounds, a strip on
// each voice, a recording and an outlet on the air; guests reload and lose their network by a seeded plan.
//   npm run --silent soak -- 90 4 1        (minutes, guests, seed)
// Prints one JSON object a minute and one at the end. It has a database, a server and browsers of its own, and needs a build.
import { mkdirSync, rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { addGuests } from '../../e2e/guests';
import { Host } from '../../e2e/host';
import { newestGaps, readTake } from '../../e2e/newest-take';
import { Stalls } from '../../e2e/stalls';
import { createRandom } from '../../src/core/random';
import { pause } from '../../src/live/pause';
import { connect } from '../../src/server/database';
import { machineShares } from '../machine-time.mjs';
import { startPostgres } from '../postgres.mjs';
import { startProduct } from '../product.mjs';
import { DeskBrowser } from './desk-browser';
import { FarGuest } from './far-guests';
import { growthPerHour, type Reading } from './growth';
import { judgeSimulated, judgeSteady } from './judge';
import { memoryOfDatabase, ownMemory, pageMemory, productMemory } from './memory';
import { nextMishap, spoilt, unexplained, type Happened } from './mishaps';
import { inMinute, pressPad, secondsByCause } from './readings';
import { putOnAir, shapeVoices } from './set-up';
import { whereMemory } from './where-memory';

/** Minutes at the beginning in which caches fill up, and the most a part may grow after them, MB an hour. */
const [WARM_MINUTES, MOST_GROWTH] = [10, 5];
/** So often it is asked where the renderer has its memory: what grew between two answers can be told. */
const WHERE_MINUTES = 4;
/** Practice callers whose tracks are known to the sample; the third is on loudspeakers and returns what no plan tells. */
const KNOWN = { 'voice:odalys': 'Odalys Brandt', 'voice:priya': 'Priya Nandakumar' };
const NAMES = ['Runa Velde', 'Ilyas Corm', 'Bettina Oak', 'Sanna Lund', 'Ebbe Strand', 'Aud Lien', 'Bjarte Vik', 'Cosima Ferri'];

const [minutes, count, seed] = [process.argv[2] ?? 90, process.argv[3] ?? 4, process.argv[4] ?? 1].map(Number);
if (!(minutes >= 1) || !Number.isInteger(count) || count < 0 || count > NAMES.length || !Number.isInteger(seed)) {
  console.error(`Say for how many minutes, with how many guests (0 to ${NAMES.length}) and by which seed: npm run --silent soak -- 90 4 1`);
  process.exit(1);
}
const random = createRandom(seed);
const undo: (() => unknown)[] = [];

// Whoever breaks it off wants nothing left over.
process.once('SIGINT', () => void tidy().finally(() => process.exit(130)));

try {
  const folder = resolve('data', 'soak-memory');
  mkdirSync(folder, { recursive: true });
  undo.push(() => rmSync(folder, { recursive: true, force: true }));
  const postgres = await startPostgres('soak-postgres');
  undo.push(() => postgres.stop());
  const product = await startProduct(postgres.url, {
    name: 'soak',
    keyFile: resolve('data', 'soak.key'),
    environment: { NODE_OPTIONS: `--import ${resolve('scripts/soak/tell-memory.mjs')}`, MEMORY_FOLDER: folder },
  });
  undo.push(async () => {
    await product.stop();
    const server = connect(postgres.url);
    // An hour of it is gigabytes.
    await server.query(`drop database "${new URL(product.url).pathname.slice(1)}"`).catch((error: Error) => console.error(error.message));
    await server.end();
  });
  process.env.BROWSER_DATABASE_URL = product.url;
  const pool = connect(product.url);
  undo.push(() => pool.end());

  const names = NAMES.slice(0, count);
  const desk = await DeskBrowser.open();
  undo.push(() => desk.close());
  const links = await desk.visit(async (page) => {
    await page.goto(product.address);
    await page.getByRole('article', { name: 'The last chain ferry' }).getByRole('link', { name: 'Open the desk' }).click();
    await page.getByRole('link', { name: 'Prepare', exact: true }).click();
    const made = await addGuests(new Host(page), names);
    await putOnAir.prepare(page);
    await page.getByRole('link', { name: 'Live', exact: true }).click();
    await new Host(page).startCall();
    await new Host(page).lane('Harbour').getByRole('button', { name: 'Bring Harbour up' }).click();
    return made;
  });
  const guests: FarGuest[] = [];
  for (const [k, link] of links.entries()) {
    const first = names[k].split(' ')[0];
    const far = await FarGuest.open(first, link, 400 + 90 * k);
    undo.push(() => far.close());
    await far.guest.arrive();
    await desk.visit((page) => new Host(page).lane(first).getByRole('button', { name: `Bring ${first} up` }).click());
    await far.guest.isIn();
    guests.push(far);
  }
  const stalls = new Stalls();
  undo.push(() => stalls.stop());
  await desk.visit(async (page) => {
    await shapeVoices(new Host(page));
    await putOnAir.start(page);
    await new Host(page).record();
  });
  const began = performance.now();
  const shares = machineShares();
  const mishaps: Happened[] = [];
  const readings: Record<string, Reading[]> = {};
  let over = false;
  const suffering = (async () => {
    for (let next = nextMishap(random, guests); !over; next = nextMishap(random, guests, performance.now() - began)) {
      while (!over && performance.now() - began < next.atMs) await pause(500);
      if (over) return;
      const { far, mishap, seconds } = next;
      const atMs = performance.now() - began;
      const words = far ? await far.suffer(mishap, seconds) : null;
      if (far) mishaps.push({ guest: far.guest.name, mishap, seconds, atMs, backMs: performance.now() - began, words });
      const pad = random.next() < 0.5 ? 'Ship’s bell' : 'Opening theme';
      await desk.look((browser, page) => pressPad(browser, page, pad));
    }
  })();
  // What broke it off is said where it is waited for.
  suffering.catch(() => undefined);
  for (let minute = 1; minute <= minutes; minute++) {
    await pause(Math.max(1, began + minute * 60_000 - performance.now()));
    const { said, inPage } = await desk.look(async (browser, page, all) => ({ said: await inMinute(browser, page, pool), inPage: await pageMemory(browser, all) }));
    const now = { ...inPage.heaps, renderer: ownMemory(inPage.renderer), ...(await productMemory(product.processes(), folder)), ...memoryOfDatabase(product.url) };
    for (const [part, mb] of Object.entries(now)) (readings[part] ??= []).push({ minute, mb });
    console.log(JSON.stringify({ minute, memory: rounded(now), ...said, mishaps: mishaps.length, stalls: stalls.summary() }));
    if (minute % WHERE_MINUTES === 0) console.log(JSON.stringify({ minute, where: await desk.look((browser) => whereMemory(browser, inPage.renderer)) }));
  }
  over = true;
  await suffering;

  const machine = shares();
  const { air, gaps, known, steady, seats } = await desk.visit(async (page) => {
    const host = new Host(page);
    await host.stop();
    const said = await page.getByRole('region', { name: 'On the air' }).innerText();
    for (const far of guests) await far.close();
    await host.openNewestTake();
    const [newest, listed] = [await readTake(), await newestGaps()];
    const tracks = await page.getByRole('link', { name: /^Download .*, voice, as received, as WAV$/ }).evaluateAll((found) => found.map((link) => ({ name: /^Download (.*), voice, as received/.exec(link.getAttribute('aria-label')!)![1], href: link.getAttribute('href')! })));
    const hrefOf = (name: string) => tracks.find((track) => track.name.startsWith(name))!.href;
    const simulated = await judgeSimulated(page, newest, Object.entries(KNOWN).map(([source, name]) => ({ source, name, href: hrefOf(name) })), listed);
    const { rows } = await pool.query<{ recorded: string; name: string }>('select recorded, name from track where take_id = (select id from take order by started_at desc limit 1)');
    const judged = [];
    for (const name of names) {
      const source = rows.find((row) => row.name.startsWith(name))!.recorded;
      judged.push(await judgeSteady(page, { source, name, href: hrefOf(name) }, [...listed, ...spoilt(mishaps, name, source)]));
    }
    return { air: said, gaps: listed, known: simulated, steady: judged, seats: rows };
  });
  const growth = Object.fromEntries(Object.entries(readings).map(([part, read]) => [part, growthPerHour(read, WARM_MINUTES)]));
  const grown = Object.entries(growth).filter(([, mb]) => mb !== null && mb > MOST_GROWTH).map(([part]) => part);
  const without = unexplained(gaps, mishaps, (atMs) => stalls.explains(began + atMs, 1000), seats);
  const unlisted = [...known, ...steady].filter((track) => track.unlisted > 0);
  const lost = mishaps.filter(({ words }) => words !== null);
  const failed = grown.length + without.length + unlisted.length + lost.length > 0;
  console.log(
    JSON.stringify({ minutes, guests: count, seed, failed, growthMbPerHour: rounded(growth), grown, gaps: gaps.length, gapsByCause: secondsByCause(gaps), gapsWithoutCause: without, tracks: [...known, ...steady], mishaps, air: air.replaceAll('\n', ' · '), machine: { idle: machine?.idle, taken: machine?.taken, stalls: stalls.summary() }, errors: desk.errors }, null, 1),
  );
  process.exitCode = failed ? 1 : 0;
} finally {
  await tidy();
}

async function tidy(): Promise<void> {
  for (const step of undo.splice(0).toReversed()) await (async () => step())().catch((error: Error) => console.error(error.message));
}

function rounded(values: Record<string, number | null>): Record<string, number | null> {
  return Object.fromEntries(Object.entries(values).map(([name, value]) => [name, value === null ? null : Math.round(10 * value) / 10]));
}
