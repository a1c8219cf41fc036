import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';

/**
 * What shuts somebody out of a page (WCAG 2, levels A and AA, and what is good practice), each with the element it is in.
 * Our pages have no frames of other origins, and only faults are described: that takes a quarter of the time.
 * @param part of the page, as a selector
 * @param rules of axe-core; none for all
 * @param minor also what only makes it harder
 */
export async function faultsIn(page: Page, { part, rules, minor = false }: { part?: string; rules?: string[]; minor?: boolean } = {}): Promise<string[]> {
  const axe = new AxeBuilder({ page }).setLegacyMode(true).options({ resultTypes: ['violations'] });
  if (part) axe.include(part);
  if (rules) axe.withRules(rules);
  const { violations } = await axe.analyze();
  const told = violations.filter(({ impact }) => minor || impact === 'serious' || impact === 'critical');
  return told.map(({ id, nodes }) => `${id} ${nodes[0].html}`);
}
