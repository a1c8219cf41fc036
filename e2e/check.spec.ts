import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import type { LineCheck } from '../src/core/linecheck/line-check';
import { Guest, makeEpisode, openLink } from './guests';
import { expect, test, type Host } from './host';

const LEAK = { gainDb: -20, delayMs: 150 };

/** A guest's microphone: the faint noise of a room, and of what the page receives a tenth, 150 ms later, where it is asked for. */
const room = (page: Page, leaks: boolean) =>
  page.addInitScript(
    ([gain, seconds]) => {
      const context = new AudioContext({ sampleRate: 48000 });
      const out = new MediaStreamAudioDestinationNode(context, { channelCount: 1 });
      const noise = new AudioBuffer({ length: 4 * 48000, sampleRate: 48000 });
      noise.getChannelData(0).forEach((_, i, samples) => (samples[i] = 0.0004 * (Math.random() - 0.5)));
      const player = new AudioBufferSourceNode(context, { buffer: noise, loop: true });
      player.connect(out);
      player.start();
      navigator.mediaDevices.getUserMedia = () => Promise.resolve(out.stream.clone());
      const Connection = window.RTCPeerConnection;
      window.RTCPeerConnection = class extends Connection {
        constructor(configuration?: RTCConfiguration) {
          super(configuration);
          this.addEventListener('track', ({ track }) => {
            if (gain === 0) return;
            const delay = new DelayNode(context, { delayTime: seconds, maxDelayTime: 1 });
            context.createMediaStreamSource(new MediaStream([track])).connect(delay).connect(new GainNode(context, { gain })).connect(out);
          });
        }
      };
    },
    [leaks ? 10 ** (LEAK.gainDb / 20) : 0, LEAK.delayMs / 1000] as const,
  );

/** Keeps what the page tells its audio thread, so that the engine can be told something else than the plan. */
const keepPlans = (page: Page) =>
  page.addInitScript(() => {
    const post = MessagePort.prototype.postMessage as (this: MessagePort, ...words: unknown[]) => void;
    const kept = { port: null as MessagePort | null, plan: null as unknown };
    Object.assign(window, { keptPlan: kept });
    MessagePort.prototype.postMessage = function (this: MessagePort, ...words: unknown[]) {
      const message = words[0] as { type?: string } | null;
      if (message?.type === 'plan') Object.assign(kept, { port: this, plan: message });
      return post.apply(this, words);
    } as typeof MessagePort.prototype.postMessage;
  });

/** Halves every gain of one listener in the engine, and leaves the plan as it is. */
const turnDown = (page: Page, listener: string) =>
  page.evaluate((who) => {
    const { port, plan } = (window as unknown as { keptPlan: { port: MessagePort; plan: { plan: { listenerIds: string[]; first: Uint16Array; gainLeft: Float32Array; gainRight: Float32Array } } } }).keptPlan;
    const compiled = structuredClone(plan.plan);
    const place = compiled.listenerIds.indexOf(who);
    for (let k = compiled.first[place]; k < compiled.first[place + 1]; k++) {
      compiled.gainLeft[k] /= 2;
      compiled.gainRight[k] /= 2;
    }
    port.postMessage({ ...plan, plan: compiled });
  }, listener);

async function measure(host: Host): Promise<LineCheck> {
  const panel = host.page.getByRole('region', { name: 'Line check', exact: true });
  await panel.getByRole('button', { name: /^Measure/ }).click();
  await expect(panel.getByRole('progressbar')).toBeVisible();
  await expect(panel.getByRole('button', { name: 'Measure again' })).toBeVisible({ timeout: 40_000 });
  const [download] = await Promise.all([host.page.waitForEvent('download'), host.page.getByRole('button', { name: 'As JSON' }).click()]);
  return JSON.parse(readFileSync(await download.path(), 'utf8')) as LineCheck;
}

test('one press measures every crosspoint at both ends, finds who sits on loudspeakers, and what the engine does otherwise than planned', async ({ host, browser }) => {
  test.setTimeout(180_000);
  await keepPlans(host.page);
  await host.page.reload();
  const links = await makeEpisode(host, 'Measured', ['Runa Velde', 'Soren Aas']);
  const pages = await Promise.all(links.map((link, k) => openLink(browser, link, (page) => room(page, k === 0))));
  const guests = pages.map((page, k) => new Guest(page, ['Runa', 'Soren'][k], links[k]));
  for (const guest of guests) await guest.comeIn();
  await host.startCall();
  for (const [k, name] of ['Runa', 'Soren'].entries()) {
    await host.lane(name).getByRole('button', { name: `Bring ${name} up` }).click();
    await guests[k].isIn();
  }
  await host.page.getByRole('link', { name: 'Check', exact: true }).click();
  const found = host.page.getByRole('region', { name: 'What was found' });
  await expect(found).toContainText('Nothing was measured yet');

  const check = measure(host);
  await expect(pages[1].getByText(/^Line check in \d$/)).toBeVisible();
  await expect(pages[1].getByText('Line check: please be quiet')).toBeVisible();
  const first = await check;
  const off = first.crosspoints.filter(({ plannedDb, engineDb }) => (plannedDb === null) !== (engineDb === null) || Math.abs((plannedDb ?? 0) - (engineDb ?? 0)) > 0.5);
  expect(off, 'places that are not as planned where mixes are made').toEqual([]);
  const far = first.crosspoints.filter(({ farDb }) => farDb !== undefined);
  expect(far.length).toBeGreaterThan(8);
  for (const { source, listener, plannedDb, farDb } of far) {
    if (plannedDb === null) expect(farDb, `${source} at the end of ${listener}`).toBeNull();
    else expect(Math.abs(farDb! - plannedDb), `${source} at the end of ${listener}`).toBeLessThan(1);
  }
  const ids = Object.fromEntries(Object.entries(first.names).map(([id, name]) => [name, id.slice(id.indexOf(':') + 1)]));
  const [way, ...more] = first.waysBack.filter(({ to }) => to.startsWith('voice:'));
  expect([way.from, way.to, more]).toEqual([`return:${ids.Runa}`, `voice:${ids.Runa}`, []]);
  expect(Math.abs(way.gainDb - LEAK.gainDb)).toBeLessThan(1.5);
  const leaks = Object.fromEntries(first.farEnds.map(({ listener, leak }) => [listener, leak]));
  expect(Math.abs(leaks[`return:${ids.Runa}`]!.gainDb - LEAK.gainDb)).toBeLessThan(1);
  // From the simulated room to the page is a way of its own, from one audio context to another.
  const later = leaks[`return:${ids.Runa}`]!.delayMs - LEAK.delayMs;
  expect(later).toBeGreaterThan(-5);
  expect(later).toBeLessThan(60);
  expect(leaks[`return:${ids.Soren}`]).toBeNull();
  await expect(found).toContainText(/Runa’s loudspeakers reach Runa’s microphone/);
  await expect(host.page.getByRole('row', { name: /^Runa/ }).first()).toContainText(/loudspeakers −(19|20|21)/);

  // The engine does something else than the plan says: found where mixes are made, and mended by one press.
  await turnDown(host.page, `return:${ids.Soren}`);
  const second = await measure(host);
  const wrong = second.crosspoints.filter(({ plannedDb, engineDb }) => plannedDb !== null && Math.abs(engineDb! - plannedDb + 6.02) < 0.1);
  expect(new Set(wrong.map(({ listener }) => listener))).toEqual(new Set([`return:${ids.Soren}`]));
  await found.getByRole('button', { name: 'Put the plan into force again' }).first().click();
  const third = await measure(host);
  expect(third.crosspoints.every(({ plannedDb, engineDb }) => plannedDb === null || Math.abs(engineDb! - plannedDb) < 0.1)).toBe(true);

  // What they hear, in their own words.
  await host.page.getByRole('button', { name: 'Ask Soren what they hear' }).click();
  for (const answer of ['Yes', 'No', 'No']) await pages[1].getByRole('group', { name: / asks$/ }).getByRole('button', { name: answer }).click();
  await expect(host.page.getByRole('row', { name: /^Soren/ }).first()).toContainText('does not hear the music');
  await host.endCall();
});
