import type { Page } from '@playwright/test';
import { makeEpisode } from './guests';
import { expect, test, type Host } from './host';

interface Hindrances {
  /** Name of the error a microphone is refused with. */
  microphone?: string;
  noDevices?: boolean;
  noOutputChoice?: boolean;
}

/** A browser that stands in the way, as some do. `takePermissionBack` is what somebody does in the address bar. */
async function hinder(page: Page, hindrances: Hindrances): Promise<void> {
  await page.addInitScript(({ microphone, noDevices, noOutputChoice }) => {
    const device = (kind: string, deviceId: string, label: string) => ({ kind, deviceId, label, groupId: '', toJSON: () => ({}) });
    const listed = noDevices ? [] : [device('audioinput', 'in-1', 'Desk microphone'), device('audiooutput', 'out-1', 'Headphones')];
    navigator.mediaDevices.enumerateDevices = () => Promise.resolve(listed as MediaDeviceInfo[]);
    const stream = () => new MediaStreamAudioDestinationNode(new AudioContext({ sampleRate: 48000 })).stream;
    navigator.mediaDevices.getUserMedia = () => (microphone ? Promise.reject(new DOMException('', microphone)) : Promise.resolve(stream()));
    if (noOutputChoice) delete (AudioContext.prototype as { setSinkId?: unknown }).setSinkId;
    const status = Object.assign(new EventTarget(), { state: microphone === 'NotAllowedError' ? 'denied' : 'granted' });
    navigator.permissions.query = () => Promise.resolve(status as unknown as PermissionStatus);
    (window as unknown as { takePermissionBack(): void }).takePermissionBack = () => {
      status.state = 'denied';
      status.dispatchEvent(new Event('change'));
    };
  }, hindrances);
}

async function prepare(host: Host, title: string) {
  await makeEpisode(host, title, []);
  await host.page.getByRole('link', { name: 'Prepare', exact: true }).click();
  return host.page.getByRole('region', { name: 'My sound' });
}

for (const [what, hindrances, words] of [
  ['a microphone that was refused', { microphone: 'NotAllowedError' }, /told not to let this page use microphones\. Allow it in the browser’s address bar, then reload/],
  ['no device at all', { noDevices: true }, /No microphone is plugged in\. Plug one in; it appears here by itself/],
  ['a browser that cannot choose outputs', { noOutputChoice: true }, /cannot choose outputs: your phones are whatever the system uses/],
] as const) {
  test(`${what} is said with what to do, and the call works without it`, async ({ host, page }) => {
    await hinder(page, hindrances);
    const sound = await prepare(host, what);
    await expect(sound).toContainText(words);
    await page.getByRole('link', { name: 'Live', exact: true }).click();
    await host.startCall();
    await host.record();
    await host.untilRecorded(1);
    await host.stop();
    await host.endCall();
  });
}

test('a device that another program holds is said', async ({ host, page }) => {
  await hinder(page, { microphone: 'NotReadableError' });
  const sound = await prepare(host, 'Held elsewhere');
  await sound.getByLabel('Microphone', { exact: true }).selectOption({ label: 'Desk microphone' });
  await expect(sound.getByRole('alert').first()).toContainText(/another program|in use/i);
});

test('permission that is taken back in mid-call is said once, and the take goes on', async ({ host, page }) => {
  await hinder(page, {});
  const sound = await prepare(host, 'Taken back');
  await sound.getByLabel('Microphone', { exact: true }).selectOption({ label: 'Desk microphone' });
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await host.startCall();
  await host.record();
  await page.evaluate(() => (window as unknown as { takePermissionBack(): void }).takePermissionBack());
  await expect(page.getByText(/no longer lets this page use microphones/)).toHaveCount(1);
  await host.untilRecorded(2);
  await host.stop();
  await host.endCall();
});
