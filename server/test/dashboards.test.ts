import type { Dashboard, DashboardVersion } from '@loka/contract/dashboards';
import type { AuditEntry, ProblemDetails } from '@loka/contract/health';
import { contentOf, newElement, type DashboardElement } from '@loka/core/dashboards';
import { Loka, until } from './support/loka.js';

// Dashboards: kept as they are made, with how they were, and what does not hold refused at its field.
let loka: Loka;
beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
});
afterAll(() => loka.stop());

const number = (id: string, x = 0, y = 0, more: Partial<DashboardElement> = {}) =>
  newElement(id, 'number', [{ of: 'power', id: 1 }], { x, y, w: 3, h: 2 }, more);
const make = (name: string, elements: DashboardElement[] = [number('a')]) =>
  loka.ask<Dashboard>('/dashboards', 'POST', { name, content: contentOf(elements) });
const put = (id: number, version: number, elements: DashboardElement[], name = 'Day') =>
  loka.raw(`/dashboards/${id}`, 'PUT', { name, version, content: contentOf(elements) });
const refused = ({ status, body }: { status: number; body: unknown }) => ({
  status,
  problem: body as ProblemDetails & { now?: Record<string, unknown>; version?: number },
});

it('is there as it was made, by its name in the list, and gone when it is removed', async () => {
  const made = await make('  Wall ', [number('a', 0, 0, { title: '' }), number('b', 3)]);
  expect(made).toMatchObject({ name: 'Wall', version: 1 });
  const { id: first } = await make('Bench');
  const list = await loka.ask<Dashboard[]>('/dashboards');
  expect(list.map((d) => d.name)).toEqual(['Bench', 'Wall']);
  expect(list[1]?.content.elements.map((e) => [e.id, e.title, e.spot.x])).toEqual([
    ['a', null, 0],
    ['b', null, 3],
  ]);
  expect((await loka.raw(`/dashboards/${first}`, 'DELETE')).status).toBe(204);
  expect((await loka.raw(`/dashboards/${first}`, 'DELETE')).status).toBe(404);
  expect((await loka.raw(`/dashboards/${first}/versions`)).status).toBe(404);
  expect((await loka.ask<Dashboard[]>('/dashboards')).map((d) => d.name)).toEqual(['Wall']);
});

it('of two who change it the second is told what is there now, and overwrites nothing', async () => {
  const { id } = await make('Day');
  expect((await put(id, 1, [number('a'), number('mine', 3)])).status).toBe(200);
  const { status, problem } = refused(await put(id, 1, [number('a'), number('theirs', 3)]));
  expect(status).toBe(409);
  expect(problem.version).toBe(2);
  expect(JSON.stringify(problem.now)).toContain('mine');
  const now = (await loka.ask<Dashboard[]>('/dashboards')).find((d) => d.id === id);
  expect(now?.content.elements.map((e) => e.id)).toEqual(['a', 'mine']);
});

it('keeps how it was, not each stroke of it, and can be made that again with a way back', async () => {
  const { id } = await make('Day', [number('first')]);
  for (let v = 1; v <= 5; v++) await put(id, v, [number('first'), number(`n${v}`, 3)]);
  const versions = () => loka.ask<DashboardVersion[]>(`/dashboards/${id}/versions`);
  const kept = await versions();
  expect(kept.map((v) => v.content.elements.map((e) => e.id))).toEqual([['first']]);
  const restored = await loka.ask<Dashboard>(`/dashboards/${id}/restore`, 'POST', {
    versionId: kept[0]?.id,
    version: 6,
  });
  expect(restored.version).toBe(7);
  expect(restored.content.elements.map((e) => e.id)).toEqual(['first']);
  // What stood before it was restored is there to go back to.
  const [newest] = await versions();
  expect(newest?.content.elements.map((e) => e.id)).toEqual(['first', 'n5']);
  expect((await loka.raw(`/dashboards/${id}/restore`, 'POST', { versionId: 9999, version: 7 })).status).toBe(
    404,
  );
  expect(
    (await loka.raw(`/dashboards/${id}/restore`, 'POST', { versionId: kept[0]?.id, version: 3 })).status,
  ).toBe(409);
});

it('who changed which is written down, without the whole of it each time', async () => {
  const { id } = await make('Noted');
  await put(id, 1, [number('b')]);
  const entry = await until('the entry', async () => {
    const log = await loka.ask<AuditEntry[]>('/audit');
    return log.find((e) => e.subject === `/api/dashboards/${id}` && e.action === 'PUT');
  });
  expect(entry.detail).toEqual({ name: 'Day', version: 1, content: '…' });
});

it('what lies one on another is put apart; what the phone does not name is shown last on it', async () => {
  const content = {
    elements: [number('a'), number('b'), number('c', 11)],
    phone: {
      shown: [
        { id: 'c', half: false },
        { id: 'x', half: true },
      ],
      away: ['b'],
    },
  };
  const made = await loka.ask<Dashboard>('/dashboards', 'POST', { name: 'Odd', content });
  expect(made.content.elements.map((e) => [e.id, e.spot.x, e.spot.y])).toEqual([
    ['a', 0, 0],
    ['b', 0, 2],
    ['c', 9, 0],
  ]);
  expect(made.content.phone).toEqual({
    shown: [
      { id: 'c', half: false },
      { id: 'a', half: false },
    ],
    away: ['b'],
  });
});

it.each([
  [
    'an element that Loka does not have',
    [{ ...number('a'), kind: 'waterfall' }],
    'content.elements.0.kind',
    /no element “waterfall”/,
  ],
  ['one id twice', [number('a'), number('a', 3)], 'content.elements.1.id', /Two elements/],
  ['a band upside down', [number('a', 0, 0, { band: [253, 207] })], 'content.elements.0.band', /not below/],
  ['a scale of text', [{ ...number('a'), scale: ['low', 'high'] }], 'content.elements.0.scale', /numbers/],
  ['a column that is not there', [number('a', 12)], 'content.elements.0.spot.x', /12 columns/],
  [
    'five quantities',
    [{ ...number('a'), shows: Array.from({ length: 5 }, () => ({ of: 'power', id: 1 })) }],
    'content.elements.0.shows',
    /four/,
  ],
  ['a long text', [number('a', 0, 0, { text: 'x'.repeat(2001) })], 'content.elements.0.text', /2000/],
])('%s is refused at its field', async (_, elements, field, words) => {
  const { status, problem } = refused(
    await loka.raw('/dashboards', 'POST', {
      name: 'Bad',
      content: { elements, phone: { shown: [], away: [] } },
    }),
  );
  expect(status).toBe(422);
  expect(problem.errors?.map((e) => e.field)).toEqual([field]);
  expect(problem.errors?.[0]?.message).toMatch(words);
});

it.each([
  ['content', []],
  ['content', { elements: [[]], phone: { shown: [], away: [] } }],
  ['content', { elements: [{ ...number('a'), spot: [] }], phone: { shown: [], away: [] } }],
  ['content', { elements: [{ ...number('a'), shows: [[]] }], phone: { shown: [], away: [] } }],
  ['content', { elements: [], phone: [] }],
  ['content', { elements: [], phone: { shown: [[]], away: [] } }],
  ['content', null],
])('a list where an object belongs is refused: %s %j', async (field, content) => {
  const { status, problem } = refused(await loka.raw('/dashboards', 'POST', { name: 'List', content }));
  expect(status).toBe(422);
  expect(problem.errors?.[0]?.field.startsWith(field)).toBe(true);
});

it('more than a hundred elements, and a name of blanks, are refused', async () => {
  const many = Array.from({ length: 101 }, (_, i) => number(`n${i}`, 0, 2 * i));
  expect((await loka.raw('/dashboards', 'POST', { name: 'Many', content: contentOf(many) })).status).toBe(
    422,
  );
  expect((await loka.raw('/dashboards', 'POST', { name: '   ', content: contentOf([]) })).status).toBe(422);
});

it('only so many earlier versions are kept, the oldest go first', async () => {
  const { id } = await make('Long', [number('v0')]);
  for (let v = 1; v <= 60; v++) {
    // As if each had stood for an hour.
    await loka.sql.query('UPDATE dashboard_versions SET until = until - 3600000 WHERE dashboardId = ?', [id]);
    expect((await put(id, v, [number(`v${v}`)])).status).toBe(200);
  }
  const versions = await loka.ask<DashboardVersion[]>(`/dashboards/${id}/versions`);
  expect(versions).toHaveLength(50);
  expect(versions[0]?.content.elements[0]?.id).toBe('v59');
  expect(versions.at(-1)?.content.elements[0]?.id).toBe('v10');
});
