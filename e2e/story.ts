import { expect, test, type Page } from '@playwright/test';

/** The sample site, where it runs. */
export const SAMPLE_URL = process.env.LOKA_SAMPLE_URL ?? 'http://localhost:8420';

/**
 * One page for all tests of a file, which build on one another; `begin` gets it before the first. No script of it may
 * break on the way.
 */
export function storyPage(begin: (page: Page) => void | Promise<void>, baseURL?: string): void {
  let page: Page;
  const problems: string[] = [];
  test.describe.configure({ mode: 'serial' });
  test.beforeAll(async ({ browser }) => {
    page = await browser.newPage(baseURL === undefined ? {} : { baseURL });
    page.on('pageerror', (error) => problems.push(error.message));
    await begin(page);
  });
  test.afterAll(async () => {
    await page.close();
    expect(problems).toEqual([]);
  });
}
