import { Guest, makeEpisode, openLink, giveTones } from './guests';
import { expect, test } from './host';
import { sitPractice } from './practice-seat';
import { expectHears, heardTones } from './tones';

const RUNA_HZ = 440;

// The page is loaded anew while it may still save its plan.
test.use({ tolerated: [/409 \(Conflict\).*\/plan/] });

test('a guest who waits hears their own voice over the whole line; the host hears what callers are sent; everybody is asked what they hear', async ({ host, browser }) => {
  const { page } = host;
  const [link] = await makeEpisode(host, 'Test calls', ['Runa Velde', 'Edda Lind']);
  await sitPractice('Edda Lind', 'odalys');
  await page.reload();
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  const guest = new Guest(await openLink(browser, link, (one) => giveTones(one, [RUNA_HZ])), 'Runa', link);
  await guest.comeIn();
  await host.startCall();
  await guest.isWaiting();

  // Their own voice, from the desk and back, while nobody else hears them.
  const own = guest.page.getByRole('status', { name: 'Your own voice' });
  await expect(own).toContainText('The desk records it');
  await guest.page.getByRole('button', { name: 'Hear yourself' }).click();
  await expect(own).toHaveText('Speak now …');
  const silent = await heardTones(guest.page, [RUNA_HZ]);
  expect(silent.get(RUNA_HZ)!.best, 'their own voice while they speak').toBeLessThan(-70);
  await expect(own).toContainText('This is you', { timeout: 15_000 });
  await expectHears(guest.page, RUNA_HZ);
  await expect(own).toHaveText('Once more, if you like.', { timeout: 15_000 });

  await host.lane('Runa').getByRole('button', { name: 'Bring Runa up' }).click();
  await host.lane('Edda').getByRole('button', { name: 'Bring Edda up' }).click();
  await guest.isIn();
  await page.getByRole('link', { name: 'Check', exact: true }).click();
  // Edda's practice line is sent Runa's tone, and brings it back into the call: Runa hears herself by it.
  const panel = page.getByRole('region', { name: 'Test call' });
  await panel.getByLabel('Whose line').selectOption({ label: 'Edda' });
  await panel.getByRole('button', { name: 'Call it' }).click();
  await expect(panel.getByRole('status')).toHaveText('Speak now …');
  await expect(panel.getByRole('status')).toHaveText('This is what Edda hears.', { timeout: 15_000 });
  await expectHears(guest.page, RUNA_HZ);
  await expect(panel.getByRole('button', { name: 'Call it' })).toBeVisible({ timeout: 15_000 });
  // A jitter buffer that catches up may keep a rest of it for a moment.
  expect((await heardTones(guest.page, [RUNA_HZ])).get(RUNA_HZ)!.worst, 'afterwards').toBeLessThan(-70);

  // What they hear, in their own words.
  await page.getByRole('button', { name: 'Ask Runa what they hear' }).click();
  for (const answer of ['Yes', 'No', 'No']) await guest.page.getByRole('group', { name: / asks$/ }).getByRole('button', { name: answer }).click();
  await expect(page.getByRole('row', { name: /^Runa/ }).first()).toContainText('does not hear the music');
  await host.endCall();
});
