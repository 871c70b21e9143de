import { expect, test, type Page } from '@playwright/test';
import axe from 'axe-core';

/** No serious finding of axe-core on what the page shows now (WCAG 2.2 A and AA). */
export async function expectAccessible(page: Page): Promise<void> {
  // A colour on its way from one to the other, as of a button that has just become usable, is neither.
  await page.addStyleTag({ content: '*, *::before, *::after { transition: none !important; }' });
  await page.evaluate(axe.source);
  const found = await page.evaluate(async () => {
    const { violations } = await (window as unknown as { axe: typeof axe }).axe.run(document, {
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
      resultTypes: ['violations'],
    });
    return violations
      .filter((v) => v.impact === 'serious' || v.impact === 'critical')
      .map(
        (v) =>
          `${v.id}: ${v.nodes.map((n) => `${n.target.join(' ')} (${n.failureSummary ?? ''})`).join('; ')}`,
      );
  });
  expect(found).toEqual([]);
}

/** A test at the desk and one on a phone: what is opened has no serious finding, and does not scroll sideways. */
export function atBothSizes(what: string, open: (page: Page) => Promise<void>): void {
  for (const [name, width, height] of [
    ['desktop', 1280, 800],
    ['phone', 390, 844],
  ] as const)
    test(`${what}: no serious finding of axe-core, no sideways scrolling, ${name}`, async ({ page }) => {
      await page.setViewportSize({ width, height });
      await open(page);
      await expectAccessible(page);
      expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(width);
    });
}
