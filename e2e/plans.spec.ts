import { expect, test, type Page } from '@playwright/test';
import { rm, truncate, writeFile } from 'node:fs/promises';
import { expectAccessible } from './accessible.js';
import { BENCH_URL } from './story.js';

// A floor plan: rooms drawn on the grid, and what is where in them, live.
test.use({ baseURL: BENCH_URL });

const plan = (page: Page) => page.getByRole('group', { name: 'The plan' });
const kept = (page: Page) => page.getByText(/editing, last kept/);

test('rooms are drawn, a way is drawn in from the spine, an outlet gets its note, and all of it is there again', async ({
  page,
}) => {
  await page.goto('/field');
  await page.getByRole('link', { name: 'Floor plan' }).click();
  await page.getByRole('button', { name: 'Another plan' }).click();
  await expect(page).toHaveURL(/plans\/\d+\?edit/);
  const box = (await plan(page).boundingBox()) as { x: number; y: number; width: number; height: number };
  const [cw, ch] = [box.width / 20, box.height / 14];
  const draw = async (a: [number, number], b: [number, number]) => {
    await page.mouse.move(box.x + (a[0] + 0.5) * cw, box.y + (a[1] + 0.5) * ch);
    await page.mouse.down();
    await page.mouse.move(box.x + (b[0] + 0.5) * cw, box.y + (b[1] + 0.5) * ch, { steps: 4 });
    await page.mouse.up();
  };
  await draw([1, 1], [8, 6]);
  await page.getByLabel('Name of the room').fill('Store');
  await page.keyboard.press('Enter');
  const store = plan(page).getByRole('button', { name: /^Room Store/ });
  await expect(store).toHaveAccessibleName('Room Store, 8 by 6 cells');
  // By keyboard: one cell wider, and two to the right.
  await store.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(store).toHaveAccessibleName('Room Store, 9 by 6 cells');
  await page
    .getByRole('complementary', { name: 'Installation' })
    .getByRole('button', { name: /Walk-in cold room/ })
    .dragTo(plan(page), { targetPosition: { x: 5 * cw, y: 4 * ch } });
  await expect(plan(page).getByRole('button', { name: /^Walk-in cold room, at 5, 4/ })).toBeVisible();
  await page.getByLabel('Put on the plan').selectOption({ label: 'an outlet on Way 1 · Espresso machine' });
  await page.getByLabel('Name of the outlet').fill('Socket by the door');
  await page.keyboard.press('Enter');
  await page.getByLabel('Note', { exact: true }).fill('behind the flour');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Note', { exact: true })).toHaveValue('');
  await page.getByRole('button', { name: 'Redo' }).click();
  await page.getByLabel('Name of the plan').fill('Cellar');
  await page.keyboard.press('Enter');
  await expect(kept(page)).toBeVisible();
  await page.getByRole('button', { name: 'Done' }).click();
  const shown = page.getByRole('list', { name: 'On Cellar' });
  await expect(shown.getByRole('link', { name: /BK 2.*W/ })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Notes' })).toContainText(
    'Socket by the door behind the flour',
  );
  await page.reload();
  await expect(page.getByText('Store', { exact: true })).toBeVisible();
  // A click goes to the circuit.
  await shown.getByRole('link', { name: /BK 2/ }).click();
  await expect(page.getByRole('heading', { name: /Walk-in cold room/ }).first()).toBeVisible();
});

test('a device on it shows whether it answers; a plan that was removed can be brought back', async ({
  page,
}) => {
  const made = await page.request.post('/api/plans', {
    data: {
      name: 'Attic',
      content: {
        columns: 10,
        rows: 8,
        rooms: [],
        marks: [{ id: 'a', kind: 'device', ref: 1, name: '', note: '', x: 5, y: 4 }],
      },
    },
  });
  const { id } = (await made.json()) as { id: number };
  await page.goto(`/field/plans/${id}`);
  await expect(
    page.getByRole('list', { name: 'On Attic' }).getByRole('img', { name: /answers/ }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Remove' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Remove it' }).click();
  await expect(page.getByText('Attic was removed.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('link', { name: 'Attic' })).toBeVisible();
});

test('of two who draw the second sees both, and what is chosen is what is kept', async ({ page }) => {
  const room = (id: string, name: string, x: number) => ({ id, name, x, y: 1, w: 3, h: 3, open: false });
  const empty = { columns: 12, rows: 8, rooms: [room('a', 'Hall', 1)], marks: [] };
  const made = await page.request.post('/api/plans', { data: { name: 'Loft', content: empty } });
  const { id } = (await made.json()) as { id: number };
  const now = async () => {
    const plans = (await (await page.request.get('/api/plans')).json()) as {
      id: number;
      version: number;
      content: typeof empty;
    }[];
    return plans.find((p) => p.id === id);
  };
  const both = page.getByRole('dialog', { name: 'Someone else has changed it too' });
  /** Moves the hall by one, while somebody else saves a room in the moment before. */
  const collide = async (name: string) => {
    await page.route(
      `**/api/plans/${id}`,
      async (route) => {
        const version = (await now())?.version;
        const content = { ...empty, rooms: [...empty.rooms, room('b', name, 6)] };
        await page.request.put(`/api/plans/${id}`, { data: { name: 'Loft', version, content } });
        await route.fallback();
      },
      { times: 1 },
    );
    await plan(page)
      .getByRole('button', { name: /^Room Hall/ })
      .focus();
    await page.keyboard.press('ArrowRight');
    await expect(both.getByRole('region', { name: 'Yours' })).toContainText('1 rooms');
    await expect(both.getByRole('region', { name: 'There now' })).toContainText(name);
  };
  await page.goto(`/field/plans/${id}?edit`);
  await collide('Theirs');
  await both.getByRole('button', { name: 'Save mine over it' }).click();
  await expect(both).toBeHidden();
  await expect
    .poll(async () => (await now())?.content.rooms.map((r) => `${r.name} ${r.x}`))
    .toEqual(['Hall 2']);
  await collide('Theirs again');
  await both.getByRole('button', { name: 'Take what is there' }).click();
  await expect(plan(page).getByRole('button', { name: /^Room Theirs again/ })).toBeVisible();
  expect((await now())?.content.rooms.map((r) => `${r.name} ${r.x}`)).toEqual(['Hall 1', 'Theirs again 6']);
});

test.describe('without serious findings of axe-core, and without sideways scrolling', () => {
  for (const [name, width, height] of [
    ['desktop', 1280, 800],
    ['phone', 390, 844],
  ] as const)
    test(`the plan, and the plan being drawn, ${name}`, async ({ page }) => {
      await page.setViewportSize({ width, height });
      await page.goto('/field/plans/1');
      await expect(page.getByRole('list', { name: /^On Bakehouse/ }).getByText('MB 1')).toBeVisible();
      await expectAccessible(page);
      expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(width);
      await page.goto('/field/plans/1?edit');
      await expect(plan(page).getByRole('button', { name: /^Room Shop/ })).toBeVisible();
      await expectAccessible(page);
    });
});

test('a drawing lies under the plan, a picture that is none is refused with the limit, and each notice has its time', async ({
  page,
}) => {
  const made = async (name: string) => {
    const empty = { columns: 10, rows: 8, rooms: [], marks: [] };
    return (
      (await (await page.request.post('/api/plans', { data: { name, content: empty } })).json()) as {
        id: number;
      }
    ).id;
  };
  const [first, second] = [await made('Barn'), await made('Barn, upstairs')];
  await page.goto(`/field/plans/${first}?edit`);
  await page.getByRole('button', { name: 'Choose a picture' }).click();
  const dialog = page.getByRole('dialog');
  const send = (name: string, content: string) =>
    dialog.getByLabel('File with a picture').setInputFiles({
      name,
      mimeType: name.endsWith('.svg') ? 'image/svg+xml' : 'image/png',
      buffer: Buffer.from(content),
    });
  const told = dialog.getByRole('alert');
  // From the disk, as a person has it: 40 MB through the pipe between the test and the browser may stall there.
  const huge = test.info().outputPath('huge.png');
  await writeFile(huge, '');
  await truncate(huge, 40_000_000);
  await dialog.getByLabel('File with a picture').setInputFiles(huge);
  await expect(told).toContainText('“huge.png” has 40.0 MB. Accepted: PNG or JPEG up to 10 MB');
  await rm(huge);
  await send('notes.png', 'these are words');
  await expect(told).toContainText('neither a PNG, a JPEG nor an SVG');
  const drawing = (inside: string) =>
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 300 200">${inside}<rect x="20" y="20" width="260" height="160" fill="none" stroke="#000" stroke-width="6"/></svg>`;
  await send('barn.svg', drawing('<script>alert(1)</script>'));
  await expect(told).toContainText('It holds “script”');
  await send('barn.svg', drawing(''));
  await expect(dialog).toBeHidden();
  const picture = page.locator('img[src*="/api/pictures/"]');
  await expect.poll(() => picture.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(300);
  // The grid has its shape, 3 to 2.
  await expect(page.getByLabel('columns')).toHaveValue('24');
  await expect(page.getByLabel('rows')).toHaveValue('16');
  await page.getByLabel('Put on the plan').selectOption({ label: 'Way 1 · Deck oven' });
  await expect(kept(page)).toBeVisible();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByRole('list', { name: 'On Barn', exact: true }).getByRole('link')).toHaveCount(1);
  await expect.poll(() => picture.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(300);

  await page.clock.install();
  const takeOff = async (name: string) => {
    await page.getByRole('button', { name: 'Remove' }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Remove it' }).click();
    await expect(page.getByText(`${name} was removed.`)).toBeVisible();
  };
  await takeOff('Barn');
  await page.clock.runFor(6000);
  await page.getByRole('link', { name: 'Barn, upstairs' }).click();
  await takeOff('Barn, upstairs');
  await page.clock.runFor(6000);
  await expect(page.getByText('Barn, upstairs was removed.')).toBeVisible();
  await page.clock.runFor(3000);
  await expect(page.getByText('Barn, upstairs was removed.')).toBeHidden();
  expect(second).toBeGreaterThan(first);
});
