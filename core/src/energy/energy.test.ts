import { emptyCounts, emptySlots } from '../series/index.js';
import {
  addBeside,
  bothDirections,
  energyAt,
  energyOfCounts,
  energyOfMean,
  energyOfSlots,
  type Energy,
  type EnergyParts,
  unknownParts,
} from './energy.js';

it('65 W for 18 h is 1.17 kWh (trade)', () => expect(energyOfMean(65, 18 * 3_600_000)).toBe(1170));
const rows = (parts: EnergyParts) => Array.from({ length: parts.length }, (_, i) => energyAt(parts, i));

it('keeps import, export and net apart; leaves out what is not covered, and says so', () => {
  const slots = emptySlots(0, 900_000, 4);
  slots.plus.set([1000, 0, 300, 0]);
  slots.minus.set([0, 400, 100, 0]);
  slots.covered.set([900_000, 450_000, 900_000, 0]);
  expect(rows(energyOfSlots([slots], [0, 1_800_000, 3_600_000, 7_200_000]))).toEqual([
    { import: 250, export: 50, net: 200, covered: 1_350_000, estimated: 0 },
    { import: 75, export: 25, net: 50, covered: 900_000, estimated: 0 },
    { import: null, export: null, net: null, covered: 0, estimated: 0 },
  ]);
});

/** Parts with the given energies; what is not said is not known. */
function parts(...energies: Partial<Energy>[]): EnergyParts {
  const made = unknownParts(energies.length);
  energies.forEach((energy, i) => {
    for (const key of ['import', 'export', 'net', 'covered', 'estimated'] as const)
      if (energy[key] != null) made[key][i] = energy[key];
  });
  return made;
}
const NOTHING = { import: null, export: null, net: null, covered: 0, estimated: 0 };

it('slots of several blocks go to the part in which they begin; what lies outside goes nowhere', () => {
  const blocks = [emptySlots(-900_000, 900_000, 3), emptySlots(1_800_000, 60_000, 30)];
  for (const slots of blocks) {
    slots.plus.fill(400);
    slots.covered.fill(slots.step);
  }
  // Parts of an hour and of what is left; the first slot begins before them. By hand: 0:00–1:00 at 400 W.
  expect(rows(energyOfSlots(blocks, [0, 3_600_000, 7_200_000]))).toEqual([
    { import: 400, export: 0, net: 400, covered: 3_600_000, estimated: 0 },
    NOTHING,
  ]);
  expect(rows(energyOfSlots(blocks, [900_000, 2_400_000]))[0]?.import).toBeCloseTo((400 * 25) / 60, 9);
});

describe('what a counter has counted, part by part', () => {
  const HOUR = 3_600_000;
  const counts = emptyCounts(0, HOUR, 3);
  counts.increment.set([500, 0, 700]);
  counts.covered.set([HOUR, 0, HOUR]);
  const borders = [0, HOUR, 2 * HOUR, 3 * HOUR, 4 * HOUR];
  const counted = (wh: number, covered = HOUR, estimated = 0) => ({
    import: wh,
    export: null,
    net: wh,
    covered,
    estimated,
  });

  it('says nothing of what flows out, and nothing of an hour that was not read', () =>
    expect(rows(energyOfCounts([counts], [], borders, null))).toEqual([
      counted(500),
      NOTHING,
      counted(700),
      NOTHING,
    ]));
  it('the whole of a gap is known in a part that holds it', () => {
    const gap = { since: HOUR, until: 2 * HOUR, increment: 90, sure: true };
    expect(rows(energyOfCounts([counts], [gap], borders, null))[1]).toEqual(counted(90));
    expect(rows(energyOfCounts([counts], [{ ...gap, sure: false }], borders, null))[1]).toEqual(
      counted(90, 0, 90),
    );
  });
  it('over a border it is spread evenly, which is an estimate; standing still is none', () => {
    // A quarter of three hours lies in the first part, an hour in each of the next two … by hand.
    const gap = { since: HOUR / 2, until: 2.5 * HOUR, increment: 80, sure: true };
    expect(rows(energyOfCounts([], [gap], borders, null))).toEqual([
      counted(20, 0, 20),
      counted(40, 0, 40),
      counted(20, 0, 20),
      NOTHING,
    ]);
    expect(rows(energyOfCounts([], [{ ...gap, increment: 0 }], borders, null))).toEqual([
      counted(0, HOUR / 2),
      counted(0, HOUR),
      counted(0, HOUR / 2),
      NOTHING,
    ]);
    // What is not sure to have stood still is not known.
    expect(rows(energyOfCounts([], [{ ...gap, increment: 0, sure: false }], borders, null))).toEqual(
      Array.from({ length: 4 }, () => NOTHING),
    );
  });
  it('is corrected by what holds at the time, in gaps too', () => {
    const gap = { since: HOUR, until: 2 * HOUR, increment: 90, sure: true };
    const factor = (t: number) => (t < HOUR ? 1 : t < 2 * HOUR ? 2 : -1);
    expect(rows(energyOfCounts([counts], [gap], borders, factor))).toEqual([
      counted(500),
      counted(180),
      counted(-700),
      NOTHING,
    ]);
  });
});

it('two conductors: the sum is known while both are', () =>
  expect(
    rows(
      addBeside(
        parts({ import: 5, export: 1, net: 4, covered: 60, estimated: 2 }, { import: 7, net: 7 }, {}),
        parts({ import: 3, net: 3, covered: 40, estimated: 1 }, {}, { import: 1, net: 1 }),
      ),
    ),
  ).toEqual([{ import: 8, export: 1, net: 7, covered: 40, estimated: 3 }, NOTHING, NOTHING]));

describe('counters of both directions', () => {
  const both = (into: Partial<Energy> | null, out: Partial<Energy> | null) =>
    energyAt(bothDirections(into && parts(into), out && parts(out)), 0);
  it.each([
    [
      'both count',
      { net: 5, covered: 60, estimated: 1 },
      { net: 2, covered: 40, estimated: 1 },
      [5, 2, 3, 40, 2],
    ],
    ['only what comes in is counted', { net: 5, covered: 60 }, null, [5, null, 5, 60, 0]],
    ['only what flows out is counted', null, { net: 2, covered: 40 }, [null, 2, -2, 40, 0]],
    ['one has told nothing', { net: 5, covered: 60 }, {}, [5, null, 5, 60, 0]],
    ['a reversed one belongs to the other', { net: -5, covered: 60 }, null, [0, 5, -5, 60, 0]],
    ['both reversed', { net: -5, covered: 60 }, { net: -2, covered: 60 }, [2, 5, -3, 60, 0]],
    ['what flows out reversed, alone', null, { net: -2, covered: 60 }, [2, 0, 2, 60, 0]],
    ['both have told nothing', {}, {}, [null, null, null, 0, 0]],
  ])('%s', (_, into, out, [imported, exported, net, covered, estimated]) =>
    expect(both(into, out)).toEqual({ import: imported, export: exported, net, covered, estimated }),
  );
});
