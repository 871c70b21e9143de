import fc from 'fast-check';
import { ofPower, type Amount } from './amount.js';
import { balanceOf, sidesOf, type Bar, type BalancePlace } from './balance.js';
import { givenBy, pictureOf, usesOf, type Picture } from './picture.js';

const amount = (taken: number, out = 0, u = 0, known = 1): Amount => ({ in: taken, out, u, known });

/** Supply 1, main board 2, ways 3 and 4, sub-board 5 with ways 6 and 7, load 8 behind way 4. */
const PLACES: BalancePlace[] = [
  { id: 1, parentId: null },
  { id: 2, parentId: 1 },
  { id: 3, parentId: 2 },
  { id: 4, parentId: 2 },
  { id: 5, parentId: 2 },
  { id: 6, parentId: 5 },
  { id: 7, parentId: 5 },
  { id: 8, parentId: 4 },
];

const require = <T>(value: T | null | undefined): T => {
  if (value == null) throw new Error('nothing is there');
  return value;
};

describe('where it goes', () => {
  // By hand: 100 in; way 3 takes 40, way 4 takes 20 of which its load takes 15, the sub-board 30 of which 10 and 12.
  const values = new Map([
    [1, amount(100, 0, 1)],
    [3, amount(40, 0, 0.4)],
    [4, amount(20, 0, 0.2)],
    [8, amount(15)],
    [5, amount(30)],
    [6, amount(10)],
    [7, amount(12)],
  ]);
  const bar = require(balanceOf(PLACES, values, 1));

  it('the main board without a meter is the busbar behind that of the supply', () => {
    expect(bar.places).toEqual([1, 2]);
    expect(bar.parts.map((p) => p.nodeId)).toEqual([3, 4, 5]);
  });
  it('what nobody meters is left over at every level', () => {
    expect(bar.remainder?.value).toBe(10);
    expect(bar.parts[1]?.bar?.remainder?.value).toBe(5);
    expect(bar.parts[2]?.bar?.remainder?.value).toBe(8);
  });
  it('what is uncertain is added in quadrature', () =>
    expect(bar.remainder?.u).toBeCloseTo(Math.sqrt(1 + 0.16 + 0.04), 12));
  it('each use counts once, and together they are what came in', () => {
    const uses = usesOf(bar);
    expect(uses.map((u) => [u.kind, u.nodeId, u.value])).toEqual([
      ['takes', 3, 40],
      ['takes', 8, 15],
      ['unmetered', 4, 5],
      ['takes', 6, 10],
      ['takes', 7, 12],
      ['unmetered', 5, 8],
      ['unmetered', 1, 10],
      ['back', 1, 0],
    ]);
    expect(uses.reduce((sum, u) => sum + u.value, 0)).toBe(100);
  });
});

it('a board without a meter is the sum of its ways, and what nobody meters there is left over above', () => {
  const bar = require(
    balanceOf(
      PLACES,
      new Map([
        [1, amount(50)],
        [6, amount(10)],
        [7, amount(12)],
      ]),
      1,
    ),
  );
  const [board] = bar.parts;
  expect(board).toMatchObject({ nodeId: 5, derived: true, amount: { in: 22, out: 0 } });
  expect(board?.bar?.remainder).toBeNull();
  expect(bar.remainder).toMatchObject({ value: 28, complete: true });
});

it('a missing value makes what is left over uncertain, and says where', () => {
  const values = new Map<number, Amount | null>([
    [1, amount(50)],
    [3, null],
    [6, amount(10, 0, 0, 0.4)],
  ]);
  const bar = require(balanceOf(PLACES, values, 1));
  expect(bar.missing).toEqual([3]);
  expect(bar.parts[0]?.bar?.partly).toEqual([6]);
  expect(bar.remainder).toMatchObject({ value: 40, complete: false });
});

it('a board whose own meter is silent stands on the sum of its ways, and that is not complete', () => {
  const values = new Map<number, Amount | null>([
    [1, amount(50)],
    [5, null],
    [6, amount(10)],
  ]);
  const bar = require(balanceOf(PLACES, values, 1));
  expect(bar.parts[0]).toMatchObject({ nodeId: 5, derived: true, amount: { in: 10 } });
  expect(bar.parts[0]?.bar?.missing).toEqual([5]);
  expect(bar.remainder?.complete).toBe(false);
});

it('parts that sum to more than the whole contradict it only beyond what is uncertain', () => {
  const of = (u: number) =>
    balanceOf(
      PLACES,
      new Map([
        [1, amount(100, 0, u)],
        [3, amount(103, 0, u)],
      ]),
      1,
    )?.remainder;
  expect(of(3)).toMatchObject({ value: -3, contradicts: false });
  expect(of(2)).toMatchObject({ value: -3, contradicts: true });
});

it('nothing metered is no balance', () => {
  expect(balanceOf(PLACES, new Map(), 1)).toBeNull();
  expect(balanceOf(PLACES, new Map([[3, null]]), 1)).toBeNull();
  expect(balanceOf([], new Map(), 1)).toBeNull();
});

it('a way with a roof and a battery behind it is opened: they stand on the bar before it, with what it loses', () => {
  // By hand, W: the roof gives 5000, the battery takes 1800, the inverter gives 3000, so 200 are lost; 1000 go back.
  const places = [...PLACES, { id: 9, parentId: 2 }, { id: 10, parentId: 9 }, { id: 11, parentId: 9 }];
  const values = new Map([
    [1, ofPower(-1000)],
    [3, ofPower(2000)],
    [9, ofPower(-3000)],
    [10, ofPower(-5000)],
    [11, ofPower(1800)],
  ]);
  const bar = require(balanceOf(places, values, 1));
  const picture = pictureOf(bar, {
    isOpened: (id) => id === 9,
    isSource: (id) => id === 10 || id === 11,
    isStorage: (id) => id === 11,
  });
  expect(picture.into.map((s) => [s.kind, s.nodeId, s.value])).toEqual([
    ['feed', 1, 0],
    ['gives', 10, 5000],
    ['gives', 11, 0],
  ]);
  expect(picture.out.map((s) => [s.kind, s.nodeId, s.value])).toEqual([
    ['takes', 3, 2000],
    ['takes', 11, 1800],
    ['unmetered', 9, 200],
    ['back', 1, 1000],
  ]);
  expect(givenBy(bar)).toEqual([
    { nodeId: 1, value: 0 },
    { nodeId: 10, value: 5000 },
  ]);
});

/** Trees of up to 40 places with any of them metered, silent, or neither, in either direction, and with meters that contradict one another. */
const anything = fc
  .array(
    fc.record({
      up: fc.double({ min: 0, max: 1, noNaN: true }),
      meter: fc.constantFrom('none', 'silent', 'power', 'energy'),
      a: fc.double({ min: -1e5, max: 1e5, noNaN: true }),
      b: fc.double({ min: 0, max: 1e5, noNaN: true }),
      opened: fc.boolean(),
    }),
    { minLength: 1, maxLength: 40 },
  )
  .map((list) => ({
    places: list.map((one, i) => ({
      id: i + 1,
      parentId: i === 0 ? null : 1 + Math.floor(one.up * (i - 1e-9)),
    })),
    values: new Map<number, Amount | null>(
      list.flatMap(({ meter, a, b }, i): [number, Amount | null][] =>
        meter === 'none'
          ? []
          : [
              [
                i + 1,
                meter === 'silent' ? null : meter === 'power' ? ofPower(a, b / 100) : amount(Math.abs(a), b),
              ],
            ],
      ),
    ),
    opened: new Set(list.flatMap(({ opened }, i) => (opened ? [i + 1] : []))),
  }));

const barsIn = (bar: Bar): Bar[] => [bar, ...bar.parts.flatMap((p) => (p.bar ? barsIn(p.bar) : []))];
const picturesIn = (picture: Picture): Picture[] => [
  picture,
  ...picture.out.flatMap((s) => (s.inside ? picturesIn(s.inside) : [])),
];
const sum = (list: readonly { value: number }[]): number => list.reduce((total, s) => total + s.value, 0);

it('closes on any tree, with missing and contradictory meters: at every bar, in the picture and in its uses', () => {
  fc.assert(
    fc.property(anything, ({ places, values, opened }) => {
      const bar = balanceOf(places, values, 1);
      if (!bar) return;
      const scale = 1e-7 * (1 + sum([...values.values()].map((v) => ({ value: v ? v.in + v.out : 0 }))));
      for (const each of barsIn(bar)) {
        const { in: into, out } = sidesOf(each);
        expect(Math.abs(into - out)).toBeLessThan(scale);
      }
      for (const picture of picturesIn(
        pictureOf(bar, {
          isOpened: (id) => opened.has(id),
          isSource: (id) => id % 3 === 0,
          isStorage: (id) => id % 2 === 0,
        }),
      )) {
        expect(Math.abs(sum(picture.into) - sum(picture.out))).toBeLessThan(scale);
        for (const strip of [...picture.into, ...picture.out]) expect(strip.value).toBeGreaterThanOrEqual(0);
        const keys = [...picture.into, ...picture.out].map((s) => s.key);
        expect(new Set(keys).size).toBe(keys.length);
      }
      expect(Math.abs(sum(usesOf(bar)) - sum(givenBy(bar)))).toBeLessThan(scale);
      const used = usesOf(bar).map((u) => u.key);
      expect(new Set(used).size).toBe(used.length);
    }),
    { numRuns: 1000 },
  );
});
