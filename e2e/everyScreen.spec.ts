import { expect, test, type Page } from '@playwright/test';
import { expectAccessible } from './accessible.js';
import { SAMPLE_URL } from './story.js';

// Every screen of Loka, once each: for screen readers and keyboards (axe-core), on a phone, and at twice the size on a desk.
test.use({ baseURL: SAMPLE_URL });

/** Address, and what is there once it is drawn. `{x}` are ids of the sample site. */
const SCREENS: [name: string, address: string, drawn: RegExp | string][] = [
  ['the board', '/board', 'To see to'],
  ['a board of it', '/board?at={MB}', 'Add a way'],
  ['a circuit', '/board?at={cold}', /Power now/],
  ['its energy', '/board?at={cold}&tab=energy', /Energy/],
  ['its wiring', '/board?at={cold}&tab=wiring', /.*/],
  ['its history', '/board?at={cold}&tab=history', /.*/],
  ['the field', '/field', 'Links'],
  ['a register map', '/field/map/{map}', 'Words now'],
  ['a map of messages', '/field/messages/{messages}', /Topic/],
  ['topics of a broker', '/field/topics/{broker}', /Topics/i],
  ['the search', '/field/search', 'Find devices'],
  ['which one moves', '/field/moves', /moves/],
  ['fitting a meter', '/field/fit/{cold}', 'Fit a meter'],
  ['a floor plan', '/field/plans', /ground floor/],
  ['the bench', '/bench', /Bench|verified/],
  ['verifying', '/bench?at={cold}&do=verify', /.*/],
  ['calibrating', '/bench?at={cold}&do=calibrate', /raw/i],
  ['trimming', '/bench?at={cold}&do=trim', 'To be trimmed'],
  ['comparing', '/bench?at={cold}&do=compare', 'Compared with'],
  ['the record of a circuit', '/bench?at={cold}&do=record', /.*/],
  ['the record of the site', '/bench?do=record', /.*/],
  ['profiles', '/profiles?at={cold}', 'What it does'],
  ['the balance', '/balance', /From|Sources|To/],
  ['a report', '/report', /Report|Where it went/],
  ['dashboards', '/dashboards', /Dashboards/],
  ['alerts', '/alerts', /Add an alert/],
  ['control', '/control', /Add a switch/],
  ['settings', '/settings', 'Loka itself'],
];

/** What holds values so that a screen reader says what they belong to: a named part, a table, a sentence or a verb. */
const PLACES =
  'section[aria-label], [role=region][aria-label], [role=group][aria-label], [role=status], [role=img], [role=dialog], form[aria-label], ul[aria-label], ol[aria-label], table, figure, button, a, dl[aria-label], p';

/** Measured values that stand in nothing that has a name; parts of the screen that have none. */
const valuesWithoutPlace = (page: Page): Promise<string[]> =>
  page.evaluate((places) => {
    const values = [...document.querySelectorAll<HTMLElement>('main .measured')]
      .filter((e) => e.offsetParent && !e.closest('[aria-hidden=true]') && !e.closest(places))
      .map((e) => `${e.innerText} in “${e.parentElement?.innerText.slice(0, 60)}”`);
    const parts = [...document.querySelectorAll('section')]
      .filter((e) => !e.ariaLabel && !e.getAttribute('aria-labelledby'))
      .map((e) => `a part without a name: “${e.innerText.slice(0, 60)}”`);
    return [...values, ...parts];
  }, PLACES);

/** What scrolls sideways in itself. A plan on a phone does: it is a drawing, and a finger needs room between its marks. */
const boxesThatScroll = (page: Page): Promise<string[]> =>
  page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('main *')]
      .filter((e) => e.clientWidth > 0 && e.scrollWidth > e.clientWidth + 1)
      .filter((e) => /auto|scroll/.test(getComputedStyle(e).overflowX) && !e.matches('[data-drawing]'))
      .map((e) => `${e.tagName} ${e.scrollWidth} > ${e.clientWidth}: “${e.innerText.slice(0, 60)}”`),
  );

/** What is cut short in the head for want of room. */
const cutInHead = (page: Page): Promise<string[]> =>
  page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('header a')]
      .filter((e) => e.clientWidth > 0)
      .filter((e) => e.scrollWidth > e.clientWidth + 1 || e.getBoundingClientRect().right > innerWidth)
      .map((e) => e.innerText),
  );

// One page for all of them, as one person has: it need not fetch and compile Loka for each.
let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await browser.newPage({ baseURL: SAMPLE_URL });
});
test.afterAll(() => page.close());

for (const [name, address, drawn] of SCREENS)
  test(`${name}: no serious finding of axe-core; nothing runs out of a phone, nor of a desk at 200 %`, async ({
    request,
  }) => {
    const ask = async <T>(path: string) => (await (await request.get(`/api${path}`)).json()) as T;
    const [nodes, maps, links] = await Promise.all([
      ask<{ id: number; name: string }[]>('/installation'),
      ask<{ id: number; name: string }[]>('/register-maps'),
      ask<{ id: number; kind: string }[]>('/links'),
    ]);
    const ids: Record<string, number | undefined> = {
      MB: nodes.find((n) => n.name === 'Main board')?.id,
      cold: nodes.find((n) => n.name === 'Walk-in cold room')?.id,
      map: maps.find((m) => m.name === 'Three-phase meter, float map')?.id,
      messages: maps.find((m) => m.name === 'Plug meter with relay, JSON messages')?.id,
      broker: links.find((l) => l.kind === 'mqtt')?.id,
    };
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.goto(address.replace(/\{(\w+)\}/g, (_, key: string) => String(ids[key])));
    await expect(page.getByRole('main')).toContainText(drawn, { timeout: 20_000 });
    // The record of a whole site is worked out in a second; beside everything else that is tested, in many.
    await expect(page.getByText('Loading')).toHaveCount(0, { timeout: 40_000 });
    await expectAccessible(page);
    expect(await valuesWithoutPlace(page)).toEqual([]);
    // 1280 × 800 at 200 % is 640 × 400.
    for (const [width, height] of [
      [640, 400],
      [390, 844],
    ] as const) {
      await page.setViewportSize({ width, height });
      await expect
        .poll(() => page.evaluate(() => document.documentElement.scrollWidth), { timeout: 5000 })
        .toBeLessThanOrEqual(width);
      // The work scrolls in its place; below the whole there is nothing to scroll to.
      expect(await page.evaluate(() => document.documentElement.scrollHeight)).toBeLessThanOrEqual(height);
      await expect.poll(() => boxesThatScroll(page), { timeout: 5000 }).toEqual([]);
    }
  });

test('a table that has become wider than its room is reached with the keyboard, and scrolls', async () => {
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto('/control');
  const operations = page.getByRole('region', { name: 'Operations' });
  const box = operations.locator('div:has(> table)');
  await expect(operations.getByRole('row').nth(1)).toBeVisible();
  await expect(box).not.toHaveAttribute('tabindex');
  // As by a font that comes later: wider, and no row higher, so that the box itself stays as it is.
  const height = await box.evaluate((e) => e.clientHeight);
  await box.locator('table').evaluate((table) => (table.style.minWidth = '3000px'));
  expect(await box.evaluate((e) => e.clientHeight)).toBe(height);
  await expect(box).toHaveAttribute('tabindex', '0');
  await box.focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(() => box.evaluate((e) => e.scrollLeft)).toBeGreaterThan(0);
});

test('what no longer protects is read whole in the head, however much of it there is', async ({
  request,
}) => {
  const [alert] = (await (await request.get('/api/alerts/history')).json()) as object[];
  const kinds = ['lockout', 'disagreement', 'blind', 'missing', 'wiring'];
  try {
    for (const count of [1, 2, 3, 5]) {
      const flags = kinds.slice(0, count).map((kind) => ({
        ...alert,
        id: kind,
        kind,
        returnedAt: null,
        acknowledgedAt: null,
        phase: 'unacknowledged',
      }));
      await page.route('**/api/alerts', (route) => route.fulfill({ json: flags }));
      await page.goto('/alerts');
      // The narrowest for which there is room, and both sides of each width at which the head is arranged anew.
      for (const width of [320, 390, 520, 640, 900, 1001, 1181, 1241, 1280, 1481, 1600]) {
        await page.setViewportSize({ width, height: 800 });
        await expect(
          page.getByRole('banner').getByText(/^1 (locked|contact|cut-off|out|wiring)/),
        ).toHaveCount(count);
        await expect.poll(() => cutInHead(page), { timeout: 5000 }).toEqual([]);
      }
      await page.unroute('**/api/alerts');
    }
  } finally {
    await page.unroute('**/api/alerts');
  }
});
