import fc from 'fast-check';
import {
  drawnRoom,
  EMPTY_PLAN,
  gridFor,
  LEAST_CELLS,
  MOST_CELLS,
  loadLevel,
  onGrid,
  onHalves,
  roomOf,
  tidiedPlan,
  type Mark,
  type Room,
} from './plan.js';

const room = (id: string, x: number, y: number, w: number, h: number): Room => ({
  id,
  name: id,
  x,
  y,
  w,
  h,
  open: false,
});
const mark = (id: string, x: number, y: number): Mark => ({
  id,
  kind: 'place',
  ref: 1,
  name: '',
  note: '',
  x,
  y,
});

it('a room is the same from whichever corner it is drawn', () => {
  const corners = [
    [
      { x: 2, y: 3 },
      { x: 5, y: 4 },
    ],
    [
      { x: 5, y: 4 },
      { x: 2, y: 3 },
    ],
    [
      { x: 5, y: 3 },
      { x: 2, y: 4 },
    ],
  ] as const;
  for (const [a, b] of corners) expect(drawnRoom(a, b)).toEqual({ x: 2, y: 3, w: 4, h: 2 });
  expect(drawnRoom({ x: 1, y: 1 }, { x: 1, y: 1 })).toEqual({ x: 1, y: 1, w: 1, h: 1 });
});

it('a mark is in the smallest room around it, or in none', () => {
  const rooms = [room('hall', 0, 0, 10, 10), room('cold room', 6, 0, 4, 3)];
  expect(roomOf({ x: 7, y: 1 }, rooms)?.id).toBe('cold room');
  expect(roomOf({ x: 2, y: 8 }, rooms)?.id).toBe('hall');
  expect(roomOf({ x: 2, y: 11 }, rooms)).toBeNull();
});

it('whatever is sent lies on the grid, each thing once', () =>
  fc.assert(
    fc.property(
      fc.record({
        columns: fc.integer({ min: -5, max: 500 }),
        rows: fc.double({ min: 0, max: 500, noNaN: true }),
        rooms: fc.array(
          fc
            .tuple(fc.constantFrom('a', 'b', 'c'), fc.integer(), fc.integer(), fc.integer(), fc.integer())
            .map((t) => room(...t)),
        ),
        marks: fc.array(
          fc
            .tuple(
              fc.constantFrom('a', 'm', 'n'),
              fc.double({ noNaN: true, noDefaultInfinity: true }),
              fc.integer(),
            )
            .map((t) => mark(...t)),
        ),
      }),
      (sent) => {
        const plan = tidiedPlan(sent);
        expect(plan.columns).toBeGreaterThanOrEqual(4);
        expect(plan.columns).toBeLessThanOrEqual(60);
        for (const r of plan.rooms) {
          expect(r.x).toBeGreaterThanOrEqual(0);
          expect(r.w).toBeGreaterThanOrEqual(1);
          expect(r.x + r.w).toBeLessThanOrEqual(plan.columns);
          expect(r.y + r.h).toBeLessThanOrEqual(plan.rows);
        }
        for (const m of plan.marks) {
          expect(Number.isInteger(2 * m.x)).toBe(true);
          expect(m.x).toBeLessThanOrEqual(plan.columns);
          expect(m.y).toBeGreaterThanOrEqual(0);
        }
        const ids = [...plan.rooms, ...plan.marks].map((one) => one.id);
        expect(new Set(ids).size).toBe(ids.length);
        expect(tidiedPlan(plan)).toEqual(plan);
      },
    ),
  ));

it.each([
  [
    { x: -2, y: 3, w: 4, h: 2 },
    { x: 0, y: 3, w: 4, h: 2 },
  ],
  [
    { x: 19, y: 13, w: 4, h: 4 },
    { x: 16, y: 10, w: 4, h: 4 },
  ],
])('%j is put onto the grid as %j', (asked, got) => expect(onGrid(asked, EMPTY_PLAN)).toEqual(got));
it('marks lie on halves of cells', () =>
  expect(onHalves({ x: 3.3, y: 99 }, EMPTY_PLAN)).toEqual({ x: 3.5, y: 14 }));

it.each([
  [null, 'unknown'],
  [0, 'idle'],
  [0.5, 'light'],
  [0.8, 'busy'],
  [0.81, 'heavy'],
  [1, 'heavy'],
  [1.01, 'over'],
])('a load of %p of its rating is %s', (share, level) => expect(loadLevel(share)).toBe(level));

it('the grid of a picture has its shape, to a few percent, in square cells', () =>
  fc.assert(
    fc.property(
      fc.double({ min: 1 / 6, max: 6, noNaN: true }),
      fc.double({ min: 1, max: 5000, noNaN: true }),
      (shape, height) => {
        const { columns, rows } = gridFor(shape * height, height);
        expect(Math.abs(columns / rows / shape - 1)).toBeLessThan(0.07);
        expect(Math.max(columns, rows)).toBeLessThanOrEqual(MOST_CELLS);
        expect(Math.min(columns, rows)).toBeGreaterThanOrEqual(LEAST_CELLS);
      },
    ),
  ));
it.each([
  [3000, 2000, { columns: 24, rows: 16 }],
  [2000, 3000, { columns: 16, rows: 24 }],
  [500, 500, { columns: 24, rows: 24 }],
  // Longer than any grid: the nearest there is.
  [5000, 100, { columns: 48, rows: 4 }],
])('%d by %d lies on %j', (width, height, grid) => expect(gridFor(width, height)).toEqual(grid));

it('a picture under a plan shows from not at all to whole', () => {
  const under = (strength: number) =>
    tidiedPlan({ ...EMPTY_PLAN, picture: { id: 1, strength, drawing: true } }).picture?.strength;
  expect([under(-1), under(0.4), under(7)]).toEqual([0, 0.4, 1]);
  expect(tidiedPlan(EMPTY_PLAN).picture).toBeNull();
});
