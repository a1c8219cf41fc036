// Kills the page, the browser, the server and PostgreSQL at random moments of recordings whose sound is known, goes on
// with the take each time, and compares what it holds in the end with what the lines sent:
//   npm run --silent chaos -- 30 1        (kills, seed)
// Prints one JSON object. It has a database, a server and a browser profile of its own, and needs a build (npm start).
import { expect, type Page } from '@playwright/test';
import { Host } from '../../e2e/host';
import { newestGaps, readTake } from '../../e2e/newest-take';
import { downloadAll, trackOf } from '../../e2e/take-files';
import { createRandom } from '../../src/core/random';
import { putOnAir, stationOf } from '../soak/set-up';
import { judgePair, judgeTake, type JudgedPair, type JudgedTake } from './judge-take';
import { startVictims } from './victims';

type Victim = 'page' | 'browser' | 'server' | 'postgres';
const VICTIMS: Victim[] = ['page', 'browser', 'server', 'postgres'];

/** A kill of the page or the browser: what the desk did not keep is less than this. */
const MOST_LOST_MS = 250;
/** In one take, before it is stopped and judged. */
const MOST_IN_ONE = 4;
/**
 * Practice callers whose sound is known to the sample (the third is on loudspeakers and returns whoever comes by devices); and a line by
 * devices, which has to be heard again at every desk.
 */
const VOICES = { 'voice:odalys': 'Odalys-Brandt', 'voice:priya': 'Priya-Nandakumar' };

const PAIR = { source: 'voice:harbour', name: 'Harbour', track: 'Harbour-office' };
/** A stream goes on from the next desk within this time. */
const ON_AIR_WITHIN_MS = 60_000;

const kills = Number(process.argv[2] ?? 30);
const seed = Number(process.argv[3] ?? 1);
const random = createRandom(seed);
const victims = await startVictims();
const done: Record<Victim, number> = { page: 0, browser: 0, server: 0, postgres: 0 };
const takes: (JudgedTake & { victims: Victim[]; pair: JudgedPair; air: string })[] = [];

try {
  for (let count = 0; count < kills; ) {
    const inThis: Victim[] = [];
    const away: { killedAt: number; wentOnAt: number }[] = [];
    let page = await victims.openPage();
    await new Host(page).openDesk();
    if (count === 0) await openStation(page);
    await new Host(page).startCall();
    if (count === 0) await new Host(page).lane(PAIR.name).getByRole('button', { name: `Bring ${PAIR.name} up` }).click();
    await putOnAir.start(page);
    await new Host(page).record();
    for (let k = 0; k < MOST_IN_ONE && count < kills; k++, count++) {
      await moment(page);
      const victim = VICTIMS[random.index(VICTIMS.length)];
      inThis.push(victim);
      done[victim]++;
      if (victim === 'server' || victim === 'postgres') {
        await victims.kill(victim);
        await moment(page);
        await victims.revive(victim);
      } else {
        const said = await page.getByRole('group', { name: 'Recording' }).innerText();
        const killedAt = await victims.killDesk(victim, page);
        console.error(JSON.stringify({ victim, said }));
        page = await victims.openPage();
        away.push({ killedAt, wentOnAt: await goOn(page) });
        await expect(stationOf(page).getByRole('status')).toContainText('on the air since', { timeout: ON_AIR_WITHIN_MS });
      }
    }
    await moment(page);
    const host = new Host(page);
    await expect(stationOf(page).getByRole('status')).toContainText('on the air since', { timeout: ON_AIR_WITHIN_MS });
    const air = (await stationOf(page).innerText()).replaceAll('\n', ' · ');
    await host.stop();
    await host.openNewestTake();
    const files = await downloadAll(page);
    const take = await readTake();
    const tracks = Object.entries(VOICES).map(([source, name]) => ({ source, samples: trackOf(files, `${name}_voice`)[0] }));
    const gaps = await newestGaps();
    const judged = judgeTake(take, tracks, gaps.filter(({ recorded }) => recorded in VOICES), away);
    const pair = judgePair(trackOf(files, `${PAIR.track}_voice`)[0], gaps.filter(({ recorded }) => recorded === PAIR.source));
    takes.push({ victims: inThis, ...judged, pair, air });
    console.error(JSON.stringify(takes.at(-1)));
    await page.getByRole('link', { name: 'Live', exact: true }).click();
    await host.endCall();
    await page.close();
  }
} finally {
  await victims.stop();
}

const lost = takes.flatMap(({ lostMs }) => lostMs);
const wrong = takes.filter(({ worstDb, unlisted, pair }) => worstDb > -100 || unlisted > 0 || pair.silent > 0).length + lost.filter((ms) => ms > MOST_LOST_MS).length;
console.log(JSON.stringify({ seed, kills: done, takes: takes.length, seconds: takes.reduce((sum, { seconds }) => sum + seconds, 0), worstDb: Math.max(...takes.map(({ worstDb }) => worstDb)), unlistedSilences: takes.reduce((sum, { unlisted }) => sum + unlisted, 0), lostMs: lost, mostLostMs: Math.max(0, ...lost), pair: { stretches: sum(takes.map(({ pair }) => pair.stretches)), silent: sum(takes.map(({ pair }) => pair.silent)) }, wrong }));
process.exit(wrong > 0 ? 1 : 0);

/** Lets the desk send what it kept and goes on with the take; says when, to the millisecond. */
async function goOn(page: Page): Promise<number> {
  const desk = page.getByRole('article', { name: 'The last chain ferry' }).getByRole('link', { name: 'Open the desk' });
  // A server or database that has only just come back may answer with an error once; a host would reload.
  for (let tries = 0; tries < 10 && !(await desk.isVisible()); tries++) {
    if (tries > 0) console.error(JSON.stringify({ reloaded: (await page.locator('body').innerText()).slice(0, 200) }));
    await page.goto('/');
    await desk.waitFor({ timeout: 4000 }).catch(() => undefined);
  }
  await desk.click();
  const button = page.getByRole('region', { name: 'Watch' }).getByRole('button', { name: /^Go on with take/ });
  await expect(button).toBeVisible({ timeout: 60_000 });
  const at = await button.evaluate((element) => {
    const now = Date.now();
    (element as HTMLElement).click();
    return now;
  });
  await expect(page.getByRole('group', { name: 'Recording' }).getByRole('button', { name: 'Stop' })).toBeEnabled();
  return at;
}

function sum(values: readonly number[]): number {
  return values.reduce((total, value) => total + value, 0);
}

/** The station that every take of it is on. */
async function openStation(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'Prepare', exact: true }).click();
  await putOnAir.prepare(page);
  await page.getByRole('link', { name: 'Live', exact: true }).click();
}

/** A random while between half a second and four. */
function moment(page: Page): Promise<void> {
  return page.waitForTimeout(500 + Math.floor(random.next() * 3500));
}
