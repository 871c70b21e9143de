import type { Plan } from '@loka/contract/plans';
import type { ProblemDetails } from '@loka/contract/health';
import { EMPTY_PLAN, type Mark, type PlanContent, type Room } from '@loka/core/plans';
import { Loka } from './support/loka.js';

// Floor plans: kept on their grid, told of by field where they do not hold, and never overwritten unseen.
let loka: Loka;
beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
});
afterAll(() => loka.stop());

const room = (more: Partial<Room> = {}): Room => ({
  id: 'r',
  name: 'Bakery',
  x: 0,
  y: 0,
  w: 4,
  h: 3,
  open: false,
  ...more,
});
const mark = (more: Partial<Mark> = {}): Mark => ({
  id: 'm',
  kind: 'outlet',
  ref: 1,
  name: 'Behind the fridge',
  note: '',
  x: 1,
  y: 1,
  ...more,
});
const body = (content: Partial<PlanContent>, more: object = {}) => ({
  name: 'Ground floor',
  content: { ...EMPTY_PLAN, ...content },
  ...more,
});

it('is there as it was drawn, on its grid, and gone when it is removed', async () => {
  const made = await loka.ask<Plan>(
    '/plans',
    'POST',
    body({ rooms: [room({ x: 18, w: 9 })], marks: [mark({ x: 2.7, y: -4 })] }),
  );
  expect(made.content.rooms[0]).toMatchObject({ x: 11, w: 9 });
  expect(made.content.marks[0]).toMatchObject({ x: 2.5, y: 0, name: 'Behind the fridge' });
  expect(await loka.ask<Plan[]>('/plans')).toEqual([made]);
  expect((await loka.raw(`/plans/${made.id}`, 'DELETE')).status).toBe(204);
  expect((await loka.raw(`/plans/${made.id}`, 'DELETE')).status).toBe(404);
  expect(await loka.ask<Plan[]>('/plans')).toEqual([]);
});

it('of two who draw the second is told what is there now', async () => {
  const { id } = await loka.ask<Plan>('/plans', 'POST', body({}));
  expect((await loka.raw(`/plans/${id}`, 'PUT', body({ rooms: [room()] }, { version: 1 }))).status).toBe(200);
  const { status, body: told } = await loka.raw(`/plans/${id}`, 'PUT', body({}, { version: 1 }));
  expect(status).toBe(409);
  expect(JSON.stringify(told)).toContain('Bakery');
});

it.each([
  ['a grid of a thousand cells', body({ columns: 1000 }), 'content.columns'],
  ['a mark that is nowhere', body({ marks: [mark({ x: null as never })] }), 'content.marks.0.x'],
  ['a mark of an unknown kind', body({ marks: [mark({ kind: 'door' as never })] }), 'content.marks.0.kind'],
  ['a long note', body({ marks: [mark({ note: 'x'.repeat(301) })] }), 'content.marks.0.note'],
  ['61 rooms', body({ rooms: Array.from({ length: 61 }, (_, i) => room({ id: `${i}` })) }), 'content.rooms'],
  ['a room without a size', body({ rooms: [room({ w: 0 })] }), 'content.rooms.0.w'],
  ['no name', body({}, { name: '' }), 'name'],
  ['a list for a plan', { name: 'x', content: [] }, 'content'],
  ['a list for a room', body({ rooms: [[]] as never }), 'content.rooms'],
  ['a list for a mark', body({ marks: [[]] as never }), 'content.marks'],
])('%s is refused at its field', async (_, sent, field) => {
  const { status, body: problem } = await loka.raw('/plans', 'POST', sent);
  expect(status).toBe(422);
  expect((problem as ProblemDetails).errors?.map((e) => e.field)).toContain(field);
});
