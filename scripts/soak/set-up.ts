import { expect, type Page } from '@playwright/test';
import type { Host } from '../../e2e/host';

const STATION = 'Ferry radio';
/** On a full machine the first piece takes its time. */
const ON_AIR_WITHIN_MS = 30_000;
/** What every voice gets; the outside program's noise is suppressed as well. */
const INSERTS = ['Low cut', 'Even out'];
const SUPPRESSED = 'Harbour';

/** The station on the desk. */
export const stationOf = (page: Page) => page.getByRole('region', { name: 'On the air' }).getByRole('group', { name: STATION });

/** An outlet on the air, by the practice radio. */
export const putOnAir = {
  async prepare(page: Page): Promise<void> {
    await page.getByRole('button', { name: 'Add a station' }).click();
    const sheet = page.getByRole('dialog');
    await sheet.getByLabel('Where to').selectOption({ label: 'The practice radio on this machine' });
    await sheet.getByLabel('Name listeners see').fill(STATION);
    await sheet.getByText('Bring it slowly to the show’s loudness').click();
    await sheet.getByRole('button', { name: 'Add the station' }).click();
    await expect(sheet).toBeHidden();
  },
  async start(page: Page): Promise<void> {
    const station = stationOf(page);
    await station.getByRole('button', { name: `Put ${STATION} on the air` }).click();
    await expect(station.getByRole('status')).toContainText('on the air since', { timeout: ON_AIR_WITHIN_MS });
  },
};

/** Something is done to every voice. */
export async function shapeVoices({ page }: Host): Promise<void> {
  await page.getByRole('link', { name: 'Hearing', exact: true }).click();
  const headers = page.getByRole('grid', { name: 'Who is heard by whom' }).getByRole('rowheader');
  for (const header of await headers.all()) {
    await header.getByRole('button').first().click();
    const open = page.getByRole('button', { name: /^What is done to / });
    if (!(await open.isVisible())) continue;
    const name = /^What is done to ([^:]+)/.exec((await open.getAttribute('aria-label'))!)![1];
    await open.click();
    const strip = page.getByRole('dialog', { name: /: what is done/ });
    for (const insert of name === SUPPRESSED ? [...INSERTS, 'Noise suppression'] : INSERTS) await strip.getByText(insert, { exact: true }).click();
    await strip.getByRole('button', { name: 'Close' }).click();
  }
  await page.getByRole('link', { name: 'Live', exact: true }).click();
}
