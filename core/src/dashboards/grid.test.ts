import fc from 'fast-check';
import {
  added,
  changed,
  contentOf,
  duplicated,
  placed,
  removed,
  tidied,
  type DashboardContent,
} from './content.js';
import { ELEMENT_KINDS, KIND_RULES, newElement, type DashboardElement } from './element.js';
import {
  closed,
  COLUMNS,
  firstFree,
  moved,
  onSheet,
  overlap,
  rowLetter,
  rowsOf,
  spotInWords,
  type Placed,
  type Spot,
} from './grid.js';

const spot = fc
  .record({
    x: fc.nat(11),
    y: fc.nat(20),
    w: fc.integer({ min: 1, max: 12 }),
    h: fc.integer({ min: 1, max: 6 }),
  })
  .map((s) => onSheet(s));
/** An arrangement without overlaps, made one by one by a rule of its own: each lower than all before it where it does not fit. */
const arrangement = fc.array(spot, { minLength: 1, maxLength: 14 }).map((spots) => {
  const list: Placed[] = [];
  for (const [i, s] of spots.entries()) {
    const free = list.every((p) => !cellsOf(p.spot).some((c) => cellsOf(s).includes(c)));
    const y = Math.max(0, ...list.map((p) => p.spot.y + p.spot.h));
    list.push({ id: `${i}`, spot: free ? s : { ...s, y } });
  }
  return list;
});
/** The cells of the sheet that a spot covers: what an overlap is by counting. */
function cellsOf({ x, y, w, h }: Spot): string[] {
  const cells: string[] = [];
  for (let i = x; i < x + w; i++) for (let j = y; j < y + h; j++) cells.push(`${i} ${j}`);
  return cells;
}
const cellsOnce = (list: readonly Placed[]): boolean => {
  const cells = list.flatMap((p) => cellsOf(p.spot));
  return new Set(cells).size === cells.length;
};

it('two spots overlap when they have a cell in common', () =>
  fc.assert(
    fc.property(spot, spot, (a, b) => {
      expect(overlap(a, b)).toBe(cellsOf(a).some((c) => cellsOf(b).includes(c)));
    }),
  ));

it('whoever moves is where it was put; nothing lies on another; what it did not meet stays', () =>
  fc.assert(
    fc.property(arrangement, fc.nat(), spot, (before, pick, to) => {
      const { id } = before[pick % before.length] as Placed;
      const after = moved(before, id, to);
      expect(after.map((p) => p.id)).toEqual(before.map((p) => p.id));
      expect(after.find((p) => p.id === id)?.spot).toEqual(to);
      expect(cellsOnce(after)).toBe(true);
      for (const [i, p] of after.entries()) {
        if (p.id === id) continue;
        const was = (before[i] as Placed).spot;
        expect([p.spot.x, p.spot.w, p.spot.h]).toEqual([was.x, was.w, was.h]);
        expect(p.spot.y).toBeGreaterThanOrEqual(was.y);
      }
      const others = before.filter((p) => p.id !== id);
      if (others.every((p) => !overlap(p.spot, to))) expect(after.filter((p) => p.id !== id)).toEqual(others);
      // Once it lies there, putting it there again changes nothing.
      expect(moved(after, id, to)).toEqual(after);
    }),
  ));

it('closing the gaps lets nothing overlap, raises nothing that could not be, and is done after one time', () =>
  fc.assert(
    fc.property(arrangement, (before) => {
      const after = closed(before);
      expect(cellsOnce(after)).toBe(true);
      expect(rowsOf(after)).toBeLessThanOrEqual(rowsOf(before));
      for (const p of after) {
        const above = { ...p.spot, y: p.spot.y - 1 };
        expect(above.y < 0 || after.some((q) => q.id !== p.id && overlap(q.spot, above))).toBe(true);
      }
      expect(closed(after)).toEqual(after);
    }),
  ));

it('the first free spot is free, and there is none before it', () =>
  fc.assert(
    fc.property(
      arrangement,
      fc.integer({ min: 1, max: 12 }),
      fc.integer({ min: 1, max: 5 }),
      (list, w, h) => {
        const taken = list.map((p) => p.spot);
        const found = firstFree(taken, { w, h });
        expect(cellsOnce([...list, { id: 'new', spot: found }])).toBe(true);
        for (let y = 0; y <= found.y; y++)
          for (let x = 0; x + w <= COLUMNS && (y < found.y || x < found.x); x++)
            expect(taken.some((t) => overlap(t, { x, y, w, h }))).toBe(true);
      },
    ),
  ));

it.each([
  [
    { x: -3, y: -1, w: 4, h: 2 },
    { x: 0, y: 0, w: 4, h: 2 },
  ],
  [
    { x: 11, y: 3, w: 4, h: 2 },
    { x: 8, y: 3, w: 4, h: 2 },
  ],
  [
    { x: 2, y: 3, w: 40, h: 0 },
    { x: 0, y: 3, w: 12, h: 1 },
  ],
  [
    { x: 2.4, y: 3.6, w: 3.2, h: 2 },
    { x: 2, y: 4, w: 3, h: 2 },
  ],
])('%j is put onto the sheet as %j', (asked, got) => expect(onSheet(asked)).toEqual(got));

it('columns are numbered and rows lettered as on a drawing', () => {
  expect([0, 25, 26, 51, 52].map(rowLetter)).toEqual(['A', 'Z', 'AA', 'AZ', 'BA']);
  expect(spotInWords({ x: 0, y: 0, w: 3, h: 4 })).toBe('columns 1–3, rows A–D');
  expect(spotInWords({ x: 11, y: 4, w: 1, h: 1 })).toBe('column 12, row E');
});

// What a person does, in any order, keeps the content whole.
const element = (id: string): fc.Arbitrary<DashboardElement> =>
  fc.record({ kind: fc.constantFrom(...ELEMENT_KINDS), spot }).map((e) => newElement(id, e.kind, [], e.spot));
const whole = ({ elements, phone }: DashboardContent): void => {
  expect(cellsOnce(elements)).toBe(true);
  for (const { kind, spot: s } of elements) {
    expect(s.x + s.w).toBeLessThanOrEqual(COLUMNS);
    expect(s.w).toBeGreaterThanOrEqual(KIND_RULES[kind].least.w);
    expect(s.h).toBeGreaterThanOrEqual(KIND_RULES[kind].least.h);
  }
  expect([...phone.shown.map((p) => p.id), ...phone.away].sort()).toEqual(elements.map((e) => e.id).sort());
};
it('any order of adding, moving, changing the kind, doubling and removing leaves everything once, apart and on the sheet', () =>
  fc.assert(
    fc.property(
      fc.array(
        fc.oneof(
          element('').map((e) => ({ do: 'add' as const, e })),
          fc.record({ do: fc.constant('move' as const), at: fc.nat(), spot }),
          fc.record({
            do: fc.constant('kind' as const),
            at: fc.nat(),
            kind: fc.constantFrom(...ELEMENT_KINDS),
          }),
          fc.record({ do: fc.constant('double' as const), at: fc.nat() }),
          fc.record({ do: fc.constant('remove' as const), at: fc.nat() }),
        ),
        { maxLength: 20 },
      ),
      (steps) => {
        let content = contentOf([]);
        for (const [i, step] of steps.entries()) {
          const id =
            'at' in step ? (content.elements[step.at % Math.max(1, content.elements.length)]?.id ?? '') : '';
          if (step.do === 'add') content = added(content, { ...step.e, id: `n${i}` });
          else if (step.do === 'move') content = placed(content, id, step.spot);
          else if (step.do === 'kind') content = changed(content, id, { kind: step.kind });
          else if (step.do === 'double') content = duplicated(content, id);
          else content = removed(content, id);
          whole(content);
        }
      },
    ),
  ));

it('what lies one on another or beside the sheet is put right', () =>
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          kind: fc.constantFrom(...ELEMENT_KINDS),
          spot: fc.record({ x: fc.integer(), y: fc.nat(30), w: fc.nat(30), h: fc.nat(30) }),
        }),
        { maxLength: 10 },
      ),
      (list) => {
        const elements = list.map((e, i) => newElement(`e${i}`, e.kind, [], e.spot));
        whole(tidied({ elements, phone: { shown: [{ id: 'gone', half: true }], away: ['e0', 'e0'] } }));
      },
    ),
  ));
