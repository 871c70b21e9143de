import fc from 'fast-check';
import { siteClock, siteDay } from '../time/index.js';
import { carpetOf, typicalDay } from './days.js';
import { maximumDemand, mostGiven } from './demand.js';
import { durationCurve, durationOfReadings } from './duration.js';
import { emptySpans, powerSpans, type PowerSpans } from './powerSpans.js';
import { emptySlots } from '../series/index.js';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;

/** Thirty days of minutes by a formula, with gaps: the same numbers were made in Python. */
const month = (): PowerSpans => {
  const spans = emptySpans(0, MINUTE, 43_200);
  for (let i = 0; i < spans.length; i++)
    if (i % 5000 >= 37)
      spans.mean[i] =
        200 + 150 * Math.sin(i * 0.01) + ((i * 7919) % 1000) * 0.35 + (i % 1440 < 180 ? 900 : 0);
  return spans;
};
const days = Array.from({ length: 30 }, (_, d) => siteDay('UTC', d * 24 * HOUR));
const minuteOfDay = (t: number) => (t / MINUTE) % 1440;

// numpy 2.4 (mean, percentile with its default linear interpolation, nanmean, nanpercentile) on the same numbers, run once.
describe('against numpy', () => {
  it('duration curve', () => {
    const curve = durationCurve(month());
    expect(curve?.known).toBe(42_867 * MINUTE);
    expect(curve?.mean).toBeCloseTo(488.48617473942033, 9);
    expect(curve?.highest).toBeCloseTo(1599.4891899763977, 9);
    expect(curve?.lowest).toBeCloseTo(50.510391659768864, 9);
    expect(curve?.base).toBeCloseTo(135.91902510017442, 9);
    // At 5, 25, 50 and 75 % of the time.
    const at = (share: number) => curve?.watts[200 * share];
    expect(at(0.05)).toBeCloseTo(1314.9893430711152, 9);
    expect(at(0.25)).toBeCloseTo(546.0056160601591, 9);
    expect(at(0.5)).toBeCloseTo(400.66205981386247, 9);
    expect(at(0.75)).toBeCloseTo(288.82526563643114, 9);
    expect(curve?.loadFactor).toBeCloseTo(488.48617473942033 / 1599.4891899763977, 12);
  });
  it.each([
    [15, 1456.4339700884614, 24_630],
    [30, 1444.0423046878245, 24_630],
    [60, 1429.7889745322652, 15_840],
  ])('maximum demand of %d min', (block, watts, minute) => {
    const got = maximumDemand(month(), block * MINUTE);
    expect(got?.watts).toBeCloseTo(watts, 9);
    expect(got?.at).toBe(minute * MINUTE);
  });
  it('carpet and typical day', () => {
    const carpet = carpetOf(month(), days, 15, minuteOfDay);
    expect(carpet.watts[3 * 96 + 7]).toBeCloseTo(1315.785046118183, 9);
    expect(carpet.watts[29 * 96 + 95]).toBeCloseTo(230.4530909961828, 9);
    expect(carpet.watts.filter((v) => Number.isNaN(v))).toHaveLength(15);
    const day = typicalDay(carpet, [0, 1, 2, 3, 4, 7, 8]);
    const at = [day.p5, day.p25, day.p50, day.p75, day.p95].map((p) => p[33]);
    [
      237.91338865644795, 252.5750831716498, 324.12197784716943, 458.14962921197366, 498.4769484327986,
    ].forEach((watts, i) => expect(at[i]).toBeCloseTo(watts, 9));
  });
});

// A billing day by hand: 2 kW from 10:07 to 10:37, else 0.4 kW.
describe('maximum demand by hand', () => {
  const spans = emptySpans(0, MINUTE, 1440);
  for (let i = 0; i < 1440; i++) spans.mean[i] = i >= 607 && i < 637 ? 2000 : 400;
  it.each([
    // 10:15 to 10:30 lies wholly in it.
    [15, 2000, 615],
    // 10:00 to 10:30 has 23 minutes of it, 10:30 to 11:00 seven.
    [30, (23 * 2000 + 7 * 400) / 30, 600],
    [60, (30 * 2000 + 30 * 400) / 60, 600],
  ])('of %d min', (block, watts, minute) => {
    const got = maximumDemand(spans, block * MINUTE);
    expect(got?.at).toBe(minute * MINUTE);
    expect(got?.watts).toBeCloseTo(watts, 9);
  });
  it('what is given is told by its lowest block, of what takes alone there is none', () => {
    const gives = { ...spans, mean: spans.mean.map((w) => 400 - w) };
    expect(mostGiven(gives, 15 * MINUTE)).toEqual({ watts: -1600, at: 615 * MINUTE });
    expect(mostGiven(spans, 15 * MINUTE)).toBeNull();
  });
  it('a block with a gap in it has none, and of nothing there is none', () => {
    for (let i = 616; i < 620; i++) spans.mean[i] = NaN;
    expect(maximumDemand(spans, 15 * MINUTE)?.at).not.toBe(615 * MINUTE);
    expect(maximumDemand(emptySpans(0, MINUTE, 1440), 15 * MINUTE)).toBeNull();
    expect(maximumDemand(emptySpans(0, 7 * MINUTE, 100), 15 * MINUTE)).toBeNull();
  });
});

it('an hour that comes twice falls on the same cells, one that is left out leaves them empty', () => {
  const zone = 'Europe/London';
  const of = (date: string) => {
    const day = siteDay(zone, Date.parse(`${date}T12:00:00Z`));
    const length = (day.end - day.start) / MINUTE;
    const spans = emptySpans(day.start, MINUTE, length);
    for (let i = 0; i < length; i++) spans.mean[i] = i;
    const clock = (t: number) => Number(siteClock(zone, t, 'H')) * 60 + Number(siteClock(zone, t, 'm'));
    return carpetOf(spans, [day], 60, clock).watts;
  };
  // 27 October 2024 has 1500 minutes: 01:00 comes as its minutes 60 to 119 and 120 to 179.
  const long = of('2024-10-27');
  expect(long[1]).toBe((60 + 179) / 2);
  expect(long[2]).toBe(180 + 29.5);
  // 31 March 2024 goes from 00:59 to 02:00.
  const short = of('2024-03-31');
  expect(short[1]).toBeNaN();
  expect(short[2]).toBe(60 + 29.5);
});

it('the curve falls, lies between its ends, and holds the energy', () =>
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: -5000, max: 5000, noNaN: true }), { minLength: 2, maxLength: 300 }),
      (values) => {
        const spans = emptySpans(0, MINUTE, values.length);
        spans.mean.set(values);
        const curve = durationCurve(spans, values.length);
        // Of 0 and −0 either may come first.
        expect((curve?.watts[0] as number) + 0).toBe(Math.max(...values) + 0);
        expect((curve?.watts.at(-1) as number) + 0).toBe(Math.min(...values) + 0);
        const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0);
        expect(sum(curve?.watts ?? [])).toBeCloseTo(sum(values), 6);
        curve?.watts.slice(1).forEach((w, i) => expect(w).toBeLessThanOrEqual(curve.watts[i] as number));
      },
    ),
  ));

it('the power of a place is that of its lines where all of them are known', () => {
  const line = (watts: readonly (number | null)[]) => {
    const slots = emptySlots(0, MINUTE, watts.length);
    watts.forEach((w, i) => {
      if (w === null) return;
      slots.plus[i] = Math.max(0, w);
      slots.minus[i] = Math.max(0, -w);
      [slots.min[i], slots.max[i], slots.last[i], slots.covered[i]] = [w - 1, w + 1, w, MINUTE];
    });
    return [slots];
  };
  const spans = powerSpans([line([100, null, 30]), line([-20, 50, 5])], 0, MINUTE, 4);
  expect([...spans.mean]).toEqual([80, NaN, 35, NaN]);
  expect([...spans.max]).toEqual([82, NaN, 37, NaN]);
});

describe('the duration curve of single readings', () => {
  it('by hand: 10 W for 6 min, 50 W for 3, 1000 W for 1', () => {
    const curve = durationOfReadings([50, 10, 1000], [180_000, 360_000, 60_000], 11);
    // A tenth of the time 1000 W, three tenths 50 W, the rest 10 W.
    const got = (curve as { watts: number[] }).watts.map(Math.round);
    expect(got.slice(0, 2)).toEqual([1000, 1000]);
    expect(got.slice(2, 5)).toEqual([50, 50, 50]);
    expect(got.slice(5)).toEqual([10, 10, 10, 10, 10, 10]);
    expect(curve).toMatchObject({ known: 600_000, highest: 1000, lowest: 10 });
    expect(curve?.mean).toBeCloseTo(121, 9);
    expect(Math.round(curve?.base ?? 0)).toBe(10);
    // 121 W · 10 min are 20.17 Wh: at 1000 W 0.0202 h.
    expect(curve?.utilisation).toBeCloseTo(0.121 / 6, 9);
  });

  it('against a plain sort, where all are held alike', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -5000, max: 20_000, noNaN: true }), { minLength: 1, maxLength: 400 }),
        (watts) => {
          const points = 41;
          const curve = durationOfReadings(
            watts,
            watts.map(() => 1000),
            points,
          );
          const sorted = [...watts].sort((a, b) => b - a);
          const most = Math.max(1, (sorted[0] as number) - (sorted.at(-1) as number)) / 1e5;
          for (let k = 1; k < points - 1; k++) {
            // The one that still holds at this share of the time; on a border between two either of them.
            const at = (k / (points - 1)) * sorted.length;
            const between = [
              sorted[Math.max(0, Math.ceil(at - 1e-9) - 1)],
              sorted[Math.min(sorted.length - 1, Math.floor(at + 1e-9))],
            ];
            expect(between.some((w) => Math.abs((w as number) - (curve?.watts[k] as number)) <= most)).toBe(
              true,
            );
          }
          expect(curve?.mean).toBeCloseTo(sorted.reduce((a, b) => a + b, 0) / sorted.length, 6);
        },
      ),
    );
  });

  it('of nothing there is none', () => {
    expect(durationOfReadings([], [])).toBeNull();
    expect(durationOfReadings([5], [0])).toBeNull();
  });
});
