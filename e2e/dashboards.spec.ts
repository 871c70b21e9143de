import { expect, test, type Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { expectAccessible } from './accessible.js';
import { SAMPLE_CONTROL, SAMPLE_URL } from './story.js';

// Dashboards: made from the spine, by the picker and by keyboard; arranged for a phone; undone, and kept.
test.use({ baseURL: SAMPLE_URL });

const sheet = (page: Page) => page.getByRole('region', { name: 'Desk arrangement' });
const element = (page: Page, name: RegExp) => sheet(page).getByRole('button', { name });
const block = (page: Page) => page.getByRole('region', { name: 'The chosen element' });
const kept = (page: Page) => page.getByText(/editing, last kept/);

/** A new dashboard of this story's own, open to be arranged. @returns its id */
async function fresh(page: Page, name: string): Promise<number> {
  const made = await page.request.post('/api/dashboards', {
    data: { name, content: { elements: [], phone: { shown: [], away: [] } } },
  });
  const { id } = (await made.json()) as { id: number };
  await page.goto(`/dashboards/${id}?edit`);
  await expect(page.getByText('Drag a way here')).toBeVisible();
  return id;
}

async function addByPicker(page: Page, kind: RegExp, what: string | RegExp): Promise<void> {
  await page.getByRole('button', { name: 'Add an element' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('radio', { name: kind }).check({ force: true });
  await dialog
    .getByRole('button', { name: what, exact: typeof what === 'string' })
    .first()
    .click();
}

test('a way is drawn from the spine onto the sheet, moved and sized by pointer, undone, and kept over a reload', async ({
  page,
}) => {
  await fresh(page, 'By pointer');
  const way = page
    .getByRole('complementary', { name: 'Installation' })
    .getByRole('button', { name: /Deck oven/ });
  await way.dragTo(sheet(page).getByRole('group'), { targetPosition: { x: 10, y: 10 } });
  const oven = element(page, /^1, Number, Deck oven/);
  await expect(oven).toHaveAccessibleName(/columns 1–3, rows A–B/);
  await expect(
    sheet(page)
      .getByText(/\d+(\.\d+)?(kW|W)/)
      .first(),
  ).toBeVisible();
  // Moved by its body.
  const box = (await oven.boundingBox()) as { x: number; y: number; width: number; height: number };
  const column = box.width / 3;
  await page.mouse.move(box.x + 20, box.y + 40);
  await page.mouse.down();
  await page.mouse.move(box.x + 20 + 4 * column, box.y + 40 + 96, { steps: 5 });
  await page.mouse.up();
  await expect(oven).toHaveAccessibleName(/columns 5–7, rows C–D/);
  // Sized by its corner.
  const now = (await oven.boundingBox()) as typeof box;
  await page.mouse.move(now.x + now.width, now.y + now.height);
  await page.mouse.down();
  await page.mouse.move(now.x + now.width + 2 * column, now.y + now.height + 48, { steps: 5 });
  await page.mouse.up();
  await expect(oven).toHaveAccessibleName(/columns 5–9, rows C–E/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(oven).toHaveAccessibleName(/columns 5–7, rows C–D/);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(oven).toHaveAccessibleName(/columns 5–9, rows C–E/);
  await expect(kept(page)).toBeVisible();
  await page.reload();
  await expect(oven).toHaveAccessibleName(/columns 5–9, rows C–E/);
});

test('a typical day tells of the last thirty days, whatever the head shows', async ({ page }) => {
  const id = await fresh(page, 'Days');
  await addByPicker(page, /Typical day/, /Office and network/);
  await expect(element(page, /^1, Typical day/)).toBeVisible();
  await expect(sheet(page)).toContainText(
    /A day of Office and networklast 30 days(Working|Closed) days, \d+/,
  );
  const office = page.getByRole('img', {
    name: /A (working|closed) day takes \d\.\d\d kWh by its median/,
  });
  await expect(office.first()).toBeVisible();
  // Nine hours of 114 W above 180 W from Monday to Friday, and 180 W at the weekend (fieldsim/building/loads/dayLoads.ts).
  const [, kwh] = /takes ([\d.]+) kWh/.exec((await office.first().getAttribute('aria-label')) ?? '') ?? [];
  expect([5.35, 4.32].some((day) => Math.abs(Number(kwh) / day - 1) < 0.03)).toBe(true);
  await expect(kept(page)).toBeVisible();
  await page.goto(`/dashboards/${id}`);
  await expect(office.first()).toBeVisible();
});

test('one is made with the keyboard alone', async ({ page }) => {
  await fresh(page, 'By keyboard');
  await page.getByRole('button', { name: 'Add an element' }).focus();
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('radio', { name: /Number/ }).focus();
  await page.keyboard.press('ArrowDown');
  await expect(dialog.getByRole('radio', { name: /Dial/ })).toBeChecked();
  await dialog.getByLabel('Find what it shows').focus();
  await page.keyboard.type('supply voltage l1');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  const dial = element(page, /^1, Dial/);
  await expect(dial).toHaveAccessibleName(/columns 1–3, rows A–D/);
  await dial.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(dial).toHaveAccessibleName(/columns 2–5, rows B–E/);
  await page.keyboard.press('Control+d');
  await expect(element(page, /^2, Dial/)).toHaveAccessibleName(/columns 2–5, rows F–I/);
  await dial.focus();
  await page.keyboard.press('Delete');
  await expect(element(page, /^1, Dial/)).toHaveAccessibleName(/rows F–I/);
  await page.keyboard.press('Control+z');
  await expect(element(page, /^2, Dial/)).toBeVisible();
});

test('its phone has an order of its own, and what is put away is behind a fold', async ({
  page,
  browser,
}) => {
  const id = await fresh(page, 'For the phone');
  await addByPicker(page, /^Number/, 'Supply, power');
  await addByPicker(page, /^Dial/, /Supply, Voltage L1/);
  await addByPicker(page, /^Level/, /State of charge/);
  const order = page.getByRole('list', { name: 'Order on the phone' });
  const names = async () => (await order.getByRole('button', { name: /^Move / }).all()).length;
  await expect.poll(names).toBe(3);
  // The last one first, by keyboard.
  await order.getByRole('button', { name: /^Move .*charge/i }).focus();
  const told = page.getByText(/: (taken, |put )?at place \d\.$/);
  await page.keyboard.press('Space');
  // It is taken at once, and can be moved as soon as the places have been measured.
  await expect(told).toHaveText(/: at place 3\.$/);
  // dnd-kit tells it some milliseconds before it listens for arrows, which it does from a timer on: that one has run before this one.
  await page.evaluate(() => new Promise((done) => setTimeout(done)));
  await page.keyboard.press('ArrowUp');
  await expect(told).toHaveText(/at place 2/);
  await page.keyboard.press('ArrowUp');
  await expect(told).toHaveText(/at place 1/);
  await page.keyboard.press('Space');
  await expect(order.getByRole('listitem').first()).toContainText(/charge/i);
  await order
    .getByRole('button', { name: /^Archive Supply$/ })
    .first()
    .click();
  await expect(page.getByRole('list', { name: 'Behind the fold' })).toContainText('Supply');
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page).toHaveURL(new RegExp(`/dashboards/${id}$`));
  const phone = await browser.newPage({ viewport: { width: 390, height: 844 }, baseURL: SAMPLE_URL });
  await phone.goto(`/dashboards/${id}`);
  const sections = phone.getByRole('main').getByRole('region');
  await expect(sections.first()).toHaveAccessibleName(/charge/i);
  await expect(sections).toHaveCount(2);
  await phone.getByRole('button', { name: /Archived, 1/ }).click();
  await expect(sections).toHaveCount(3);
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await phone.close();
});

test('of two windows the second is told, and sees both', async ({ page, context }) => {
  const id = await fresh(page, 'Two windows');
  await addByPicker(page, /^Number/, 'Supply, power');
  await expect(kept(page)).toBeVisible();
  const other = await context.newPage();
  await other.goto(`/dashboards/${id}?edit`);
  await expect(element(other, /^1, Number/)).toBeVisible();
  // What the other window saves is taken over here while nothing is unsaved.
  await addByPicker(other, /^Number/, /Spiral mixer, power/);
  await expect(element(page, /^2, Number/)).toBeVisible();
  // Both at once: the one that saves second is asked.
  await other.route('**/api/dashboards/*', async (route) => {
    if (route.request().method() !== 'PUT') return route.fallback();
    await page.bringToFront();
    await element(page, /^1, Number/).focus();
    await page.keyboard.press('ArrowRight');
    await expect(page.getByText('keeping …')).toBeHidden();
    await expect.poll(async () => versionOf(page, id)).toBeGreaterThan(seen);
    await other.unroute('**/api/dashboards/*');
    await route.fallback();
  });
  const seen = await versionOf(page, id);
  await element(other, /^2, Number/).focus();
  await other.keyboard.press('ArrowDown');
  const both = other.getByRole('dialog', { name: /Someone else has changed it too/ });
  await expect(both.getByRole('region', { name: 'Yours' })).toBeVisible();
  await expect(both.getByRole('region', { name: 'There now' })).toBeVisible();
  await both.getByRole('button', { name: 'Save mine over it' }).click();
  await expect(kept(other)).toBeVisible();
  await other.close();
});
async function versionOf(page: Page, id: number): Promise<number> {
  const list = (await (await page.request.get('/api/dashboards')).json()) as {
    id: number;
    version: number;
  }[];
  return list.find((d) => d.id === id)?.version ?? 0;
}

test('an earlier version is taken again', async ({ page }) => {
  await fresh(page, 'As it was');
  await addByPicker(page, /^Number/, 'Supply, power');
  await expect(kept(page)).toBeVisible();
  await page.getByRole('button', { name: 'Earlier' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Take this' }).first().click();
  await expect(sheet(page).getByRole('button', { name: /^1, / })).toBeHidden();
  await page.getByRole('button', { name: 'Earlier' }).click();
  await expect(page.getByRole('dialog').getByText('1 elements', { exact: false }).first()).toBeVisible();
});

test('a switch is operated from a dashboard, with its read-back, and asked about first', async ({ page }) => {
  await page.goto('/dashboards');
  await page.getByRole('link', { name: 'Day shift' }).click();
  const contact = page.getByRole('region', { name: 'Spiral mixer, contact' });
  const reads = contact.getByText('Reads back').locator('..');
  const before = (await reads.getByRole('definition').innerText()).includes('closed');
  await contact.getByRole('button', { name: before ? 'Open' : 'Close', exact: true }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /Spiral mixer/ })
    .click();
  await expect(reads).toContainText(before ? 'open' : 'closed');
  await contact.getByRole('button', { name: before ? 'Close' : 'Open', exact: true }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /Spiral mixer/ })
    .click();
  await expect(reads).toContainText(before ? 'closed' : 'open');
});

test('a value is written from a dashboard after asking, and what came back is said; so is what the device refuses', async ({
  page,
  request,
}) => {
  const id = await fresh(page, 'With a command');
  await addByPicker(page, /^Command/, /Kept in the battery/);
  await addByPicker(page, /^Command/, /Clear the peak/);
  await expect(kept(page)).toBeVisible();
  await page.goto(`/dashboards/${id}`);
  const reserve = page.getByRole('region', { name: /Kept in the battery/ });
  const dialog = page.getByRole('dialog');
  const inDevice = async () => {
    const state = (await (await request.get(`${SAMPLE_CONTROL}/state`)).json()) as {
      devices: Record<string, Record<string, number>>;
    };
    return state.devices['inverter']?.['reserve'];
  };
  const before = await inDevice();
  await reserve.getByRole('button', { name: 'Write …' }).click();
  await dialog.getByRole('button', { name: 'Write it' }).click();
  await expect(dialog.getByRole('alert')).toContainText('Type a number.');
  await dialog.getByLabel('New value').fill('250');
  await dialog.getByRole('button', { name: 'Write it' }).click();
  await expect(dialog.getByRole('alert')).toContainText('cannot be 250');
  await dialog.getByLabel('New value').fill('1');
  await dialog.getByRole('button', { name: 'Write it' }).click();
  await expect(dialog.getByRole('alert')).toContainText('exception 3');
  expect(await inDevice()).toBe(before);
  await dialog.getByLabel('New value').fill('12,5');
  await page.keyboard.press('Enter');
  await expect(dialog.getByRole('status')).toContainText(
    '12.5 % was sent and accepted; it now reads 12.5 %.',
  );
  expect(await inDevice()).toBeCloseTo(12.5, 6);
  await dialog.getByRole('button', { name: 'Close' }).click();
  await expect(reserve.getByRole('status')).toContainText('12.5 % sent; reads 12.5 %.');
  // What always sends the same is asked about by its name.
  const clear = page.getByRole('region', { name: /Clear the peak/ });
  await clear.getByRole('button', { name: 'Send 1' }).click();
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await expect(clear.getByRole('status')).toBeHidden();
  await clear.getByRole('button', { name: 'Send 1' }).click();
  await dialog.getByRole('button', { name: 'Clear the peak' }).click();
  await expect(dialog.getByRole('status')).toContainText('it now reads 0.');
});

test('those that are ready show the site at the first click, and a copy is what one changes', async ({
  page,
}) => {
  await page.goto('/dashboards');
  await page.getByRole('list', { name: 'Ready' }).getByRole('link', { name: 'The whole site' }).click();
  await expect(page.getByRole('region', { name: 'From the supply now' })).toContainText(/\d(kW|W)/);
  await page.getByRole('button', { name: 'Make a copy to change' }).click();
  await expect(page).toHaveURL(/dashboards\/\d+\?edit/);
  await expect(element(page, /From the supply now/)).toBeVisible();
});

test('an element whose place is gone says so, and takes another', async ({ page }) => {
  const nodes = (await (await page.request.get('/api/installation')).json()) as {
    id: number;
    name: string;
  }[];
  const parentId = nodes.find((n) => n.name === 'Dishwasher')?.id;
  const made = await page.request.post('/api/installation', {
    data: { kind: 'load', parentId, name: 'Softener', way: '', phases: 'L1' },
  });
  const { id: place } = (await made.json()) as { id: number };
  const id = await fresh(page, 'Gone');
  await addByPicker(page, /^Job/, 'Softener');
  await expect(kept(page)).toBeVisible();
  await page.getByRole('button', { name: 'Done' }).click();
  expect((await page.request.delete(`/api/installation/${place}`)).ok()).toBe(true);
  await page.goto(`/dashboards/${id}`);
  await expect(page.getByText(/no longer there/)).toBeVisible();
  await page.getByRole('button', { name: 'Choose another' }).click();
  await block(page).getByRole('button', { name: 'no longer there' }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /Deck oven/ })
    .click();
  await expect(sheet(page).getByText(/no longer there/)).toBeHidden();
});

test('exported, changed by hand and imported: what does not hold is told by its line', async ({ page }) => {
  await page.goto('/dashboards');
  await page.getByRole('link', { name: 'Day shift' }).click();
  const file = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export' }).click();
  const text = await readFile(await (await file).path(), 'utf8');
  const broken = text.replace('"kind": "level"', '"kind": "waterfall"');
  const line = broken.split('\n').findIndex((l) => l.includes('waterfall')) + 1;
  await page.getByRole('link', { name: 'Dashboards' }).first().click();
  await page.getByRole('button', { name: 'Import' }).click();
  const dialog = page.getByRole('dialog');
  const choose = (body: string) =>
    dialog
      .getByLabel('File with a dashboard')
      .setInputFiles({ name: 'shift.json', mimeType: 'application/json', buffer: Buffer.from(body) });
  await choose(broken);
  await expect(dialog.getByRole('alert')).toContainText(`line ${line} Loka has no element “waterfall”`);
  await expect(dialog.getByRole('button', { name: 'Import' })).toBeDisabled();
  // From another site: one of its places is not here.
  await choose(
    text
      .replaceAll('"Hot-water cylinder"', '"Steam kettle"')
      .replace('"name": "Day shift"', '"name": "From elsewhere"'),
  );
  await expect(
    dialog
      .getByRole('alert')
      .getByText(/There is no “Steam kettle” here/)
      .first(),
  ).toBeVisible();
  await dialog.getByRole('button', { name: 'Import' }).click();
  await expect(page.getByLabel('Name of the dashboard')).toHaveValue('From elsewhere');
  await expect(element(page, /^1, Dial, 90°, Voltage L1/)).toBeVisible();
});

test('on a wall the dashboards come in turn, and without anything to press', async ({ page }) => {
  const list = (await (await page.request.get('/api/dashboards')).json()) as { id: number; name: string }[];
  const shift = list.find((d) => d.name === 'Day shift')?.id;
  const sun = list.find((d) => d.name === 'Sun and battery')?.id;
  await page.goto(`/wall?show=${shift},${sun}&every=5`);
  await expect(page.getByRole('heading', { name: 'Day shift', level: 1 })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Sun and battery', level: 1 })).toBeVisible({
    timeout: 10_000,
  });
  await expect(page.getByRole('heading', { name: 'Day shift', level: 1 })).toBeVisible({ timeout: 10_000 });
  expect(await page.evaluate(() => document.documentElement.scrollHeight <= innerHeight)).toBe(true);
});

test.describe('without serious findings of axe-core, and without sideways scrolling', () => {
  for (const [name, width, height] of [
    ['desktop', 1280, 800],
    ['phone', 390, 844],
  ] as const)
    test(`all, one of them, and one being made, ${name}`, async ({ page }) => {
      await page.setViewportSize({ width, height });
      await page.goto('/dashboards');
      await expect(page.getByRole('link', { name: 'Day shift' })).toBeVisible();
      await expectAccessible(page);
      await page.getByRole('link', { name: 'Day shift' }).click();
      await expect(page.getByRole('region', { name: 'Voltage L1', exact: true })).toContainText(/\dV/);
      await expectAccessible(page);
      if (width < 500) return;
      await page.getByRole('link', { name: 'Change' }).click();
      await expect(element(page, /Voltage L1/).first()).toBeVisible();
      await expectAccessible(page);
    });
});
