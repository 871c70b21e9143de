import { expect, test, type Page } from '@playwright/test';
import { siteClock } from '@loka/core/time';

/** The sample site, where it runs. */
export const SAMPLE_URL = process.env.LOKA_SAMPLE_URL ?? 'http://localhost:8420';
/** Another one, whose building is rewired and switched: tests that wait much run there, beside the others. */
export const BENCH_URL = process.env.LOKA_BENCH_URL ?? SAMPLE_URL;
const controlOf = (ports = '{}') =>
  `http://127.0.0.1:${(JSON.parse(ports) as { control?: number }).control ?? 15032}`;
export const SAMPLE_CONTROL = controlOf(process.env.LOKA_SAMPLE_PORTS);
export const BENCH_CONTROL = controlOf(process.env.LOKA_BENCH_PORTS);

/** The sample site's day as the URL has it, so many days ago. */
export const siteDay = (before: number): string =>
  siteClock('Europe/Lisbon', Date.now() - before * 86_400_000, 'yyyy-MM-dd');

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
