import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import type { LineCheck } from '../src/core/linecheck/line-check';
import { expect } from './host';

/** One press of the line check, and what it found. */
export async function measureLines(page: Page): Promise<LineCheck> {
  const panel = page.getByRole('region', { name: 'Line check', exact: true });
  await panel.getByRole('button', { name: /^Measure/ }).click();
  await expect(panel.getByRole('progressbar')).toBeVisible();
  await expect(panel.getByRole('button', { name: 'Measure again' })).toBeVisible({ timeout: 90_000 });
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'As JSON' }).click()]);
  return JSON.parse(readFileSync(await download.path(), 'utf8')) as LineCheck;
}

/** Keeps what the page tells its audio thread, so that the engine can be told something else than the plan. */
export const keepPlans = (page: Page) =>
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
export const turnDown = (page: Page, listener: string) =>
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

/**
 * A guest's microphone: the faint noise of a room, and of what the page receives so much, so much later; not at all without a
 * level. How much later can be changed with `setRoomDelay`.
 */
export const giveRoom = (page: Page, leak: { gainDb: number; delayMs: number } | null) =>
  page.addInitScript(
    ([gain, seconds]) => {
      const context = new AudioContext({ sampleRate: 48000 });
      const out = new MediaStreamAudioDestinationNode(context, { channelCount: 1 });
      const delay = new DelayNode(context, { delayTime: seconds, maxDelayTime: 1 });
      Object.assign(window, { roomDelay: delay });
      delay.connect(new GainNode(context, { gain })).connect(out);
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
            if (gain > 0) context.createMediaStreamSource(new MediaStream([track])).connect(delay);
          });
        }
      };
    },
    [leak ? 10 ** (leak.gainDb / 20) : 0, (leak?.delayMs ?? 0) / 1000] as const,
  );

export const setRoomDelay = (page: Page, delayMs: number) =>
  page.evaluate((seconds) => void ((window as unknown as { roomDelay: DelayNode }).roomDelay.delayTime.value = seconds), delayMs / 1000);
