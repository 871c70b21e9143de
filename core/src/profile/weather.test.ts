import { coverageFactor } from '../calibration/index.js';
import { profileCalendar } from './calendar.js';
import { emptySpans } from './powerSpans.js';
import { degreesOf, weatherDays, type WeatherDay } from './weather.js';
import { atSameTemperature, lineOf, weatherFit } from './weatherFit.js';
import type { DayKind } from './workdays.js';

const DAY = 86_400_000;
const HOUR = 3_600_000;

/** Days one after the other. */
const daysOf = (celsius: readonly number[], energy: readonly number[], closed: readonly number[] = []) =>
  celsius.map((c, i): WeatherDay => ({
    start: i * DAY,
    kind: closed.includes(i) ? 'closed' : 'working',
    energy: energy[i] as number,
    celsius: c,
  }));

/** Uniform numbers from a seed (mulberry32). */
function numbers(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
const normal = (next: () => number) => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next());

describe('a line over degrees', () => {
  // NIST StRD Norris (CHECKS.md); the standard deviation of B1 is recalled: 4.29796848199937e-4.
  const X =
    '0.2 337.4 118.2 884.6 10.1 226.5 666.3 996.3 448.6 777.0 558.2 0.4 0.6 775.5 666.9 338.0 447.5 11.6 556.0 228.1 995.8 887.6 120.2 0.3 0.3 556.8 339.1 887.2 999.0 779.0 11.1 118.3 229.2 669.1 448.9 0.5';
  const Y =
    '0.1 338.8 118.1 888.0 9.2 228.1 668.5 998.5 449.1 778.9 559.2 0.3 0.1 778.1 668.8 339.3 448.9 10.8 557.7 228.3 998.0 888.8 119.6 0.3 0.6 557.6 339.3 888.0 998.5 778.9 10.2 117.6 228.9 668.4 449.2 0.2';
  it('is that of the least squares (NIST Norris)', () => {
    const line = lineOf(daysOf(X.split(' ').map(Number), Y.split(' ').map(Number)), 0, 'above');
    expect(line?.perKelvin).toBeCloseTo(1.00211681802045, 10);
    expect(line?.bends).toBe(false);
    // Residual standard deviation of CHECKS.md.
    expect(line?.scatter).toBeCloseTo(0.884796396144373, 9);
    expect((line?.scatter as number) * Math.sqrt(line?.spread.slope as number)).toBeCloseTo(
      4.29796848199937e-4,
      12,
    );
    expect(line?.explains).toBeCloseTo(0.999993745883712, 10);
  });

  // Worked with numpy.linalg.lstsq, base scanned in steps of 0.5 °C, uncertainty with the base as a parameter; energies are 5000 (2000 when closed) + 300·max(0, 14 − T) + noise.
  const celsius = [4.5, 6.2, 7.9, 9.1, 10.4, 11.8, 12.6, 13.5, 14.9, 15.6, 16.8, 17.7, 18.2, 19.4, 5.5, 8.8];
  const energy = [
    7730, 7141, 3793, 6533, 6250, 5676, 5337, 5032, 5112, 2245, 5041, 4815, 4856, 5240, 7580, 6300,
  ];
  const days = daysOf(celsius, energy, [2, 9]);

  it('finds the base, the slope and its uncertainty; kinds of days apart (numpy)', () => {
    const fit = weatherFit(days);
    expect(fit).toMatchObject({ side: 'below', base: 14, bends: true });
    expect(fit?.perKelvin).toBeCloseTo(285.85020414, 6);
    expect(fit?.scatter).toBeCloseTo(156.48842355768383, 6);
    const inflation = (1 + 0.10457169686348732) / (1 - 0.10457169686348732);
    expect(fit?.baseUncertainty).toBeCloseTo(
      ((fit?.uncertainty as number) * 0.4129299786332856) / 17.088092359031474,
      6,
    );
    expect(fit?.inflation).toBeCloseTo(inflation, 9);
    expect(fit?.free).toBe(Math.floor(14 / inflation) - 2);
    expect(fit?.uncertainty).toBeCloseTo(
      coverageFactor(Math.floor(14 / inflation) - 2) * 17.088092359031474 * Math.sqrt(inflation),
      6,
    );
  });

  it('tells what other days would have taken at their temperatures (numpy)', () => {
    const fit = weatherFit(days);
    if (!fit) throw new Error('nothing was found');
    const others = daysOf([6, 8, 10], [7000, 7100, 6300]);
    const against = atSameTemperature(fit, others);
    expect(against?.expected).toBeCloseTo(6727.953446239797, 6);
    expect(against?.energy).toBeCloseTo(6800, 9);
    expect(against?.uncertainty).toBeCloseTo(
      coverageFactor(fit.free) * 105.37201025568717 * Math.sqrt(fit.inflation),
      6,
    );
  });

  it('of the days it was found of takes as much as it tells', () => {
    const fit = weatherFit(days);
    const own = fit && atSameTemperature(fit, days);
    expect(own?.energy).toBeCloseTo(own?.expected ?? NaN, 6);
  });

  it('leaves kinds of days out that it does not know', () => {
    const fit = weatherFit(days);
    if (!fit) throw new Error('nothing was found');
    const holiday = daysOf([7], [9000]).map((d) => ({ ...d, kind: 'holiday' as DayKind }));
    expect(atSameTemperature(fit, holiday)).toBeNull();
    expect(atSameTemperature(fit, [...holiday, ...daysOf([6], [7000])])?.days).toBe(1);
  });
});

describe('against chance', () => {
  /** Temperatures of a season, and energies that may hang on them. */
  function period(seed: number, slope: number, base: number, alike: number) {
    const next = numbers(seed);
    let [air, load] = [0, 0];
    const celsius: number[] = [];
    const energy: number[] = [];
    for (let i = 0; i < 60; i++) {
      air = 0.7 * air + 2.2 * normal(next);
      load = alike * load + 400 * normal(next);
      const c = 13 + air;
      celsius.push(c);
      energy.push(9000 + slope * Math.max(0, base - c) + load);
    }
    return daysOf(
      celsius,
      energy,
      celsius.map((_, i) => i).filter((i) => i % 7 === 0),
    );
  }
  const seeds = Array.from({ length: 400 }, (_, i) => 1000 + i);

  it('claims nothing of loads that do not hang on the temperature, 98 of 100 times', () => {
    expect(seeds.filter((s) => weatherFit(period(s, 0, 0, 0))).length).toBeLessThan(9);
    // Days that are like the one before fool plain least squares.
    expect(seeds.filter((s) => weatherFit(period(s, 0, 0, 0.6))).length).toBeLessThan(13);
  });

  it('finds those that do, with a slope that holds within its uncertainty', () => {
    const found = seeds.map((s) => weatherFit(period(s, 500, 13, 0)));
    const right = found.filter((fit) => fit?.side === 'below');
    expect(right.length).toBeGreaterThan(392);
    const within = right.filter((fit) => fit && Math.abs(fit.perKelvin - 500) < fit.uncertainty);
    expect(within.length / right.length).toBeGreaterThan(0.85);
    const near = right.filter((fit) => fit && Math.abs(fit.base - 13) <= 1.5);
    expect(near.length / right.length).toBeGreaterThan(0.85);
  });
});

describe('a bend', () => {
  /** A month of a cold counter that takes 112 Wh more a day for each degree, whatever the degree. */
  const month = (seed: number, scatter: number) => {
    const next = numbers(seed);
    const celsius = Array.from({ length: 29 }, () => 14.5 + 2 * normal(next));
    return daysOf(
      celsius,
      celsius.map((c) => 5000 + 112 * c + scatter * normal(next)),
    );
  };
  const seeds = Array.from({ length: 400 }, (_, i) => 5000 + i);

  it.each([30, 100])('is not claimed of what is straight, 97 of 100 times; scatter %i Wh', (scatter) => {
    const found = seeds.map((s) => weatherFit(month(s, scatter))).filter((fit) => fit !== null);
    expect(found.length).toBeGreaterThan(380);
    expect(found.filter((fit) => fit.bends).length / found.length).toBeLessThan(0.03);
    // Straight, the slope is within its uncertainty as often as that says.
    const within = found.filter((fit) => Math.abs(fit.perKelvin - 112) < fit.uncertainty);
    expect(within.length / found.length).toBeGreaterThan(0.93);
  });

  it('needs days on both of its sides: one cold day makes none', () => {
    const celsius = [10.8, 11.6, 12.3, 12.9, 13.4, 14, 14.4, 15, 15.6, 16.2, 16.9, 17.5, 18.1, 18.6];
    const energy = celsius.map((c, i) => 5000 + 107 * Math.max(0, c - 11.6) + (i % 2 ? 3 : -3));
    expect(weatherFit(daysOf(celsius, energy))?.bends).toBe(false);
  });
});

describe('days', () => {
  it('degrees below and above a base', () => {
    expect([12, 15.5, 18].map((c) => degreesOf(c, 15.5, 'below'))).toEqual([3.5, 0, 0]);
    expect([12, 15.5, 18].map((c) => degreesOf(c, 15.5, 'above'))).toEqual([0, 0, 2.5]);
  });

  it('leaves out days that were not read, or are not over; one of 23 hours takes less', () => {
    const start = Date.parse('2026-03-28T00:00Z');
    // 29 March has 23 hours in Lisbon.
    const power = emptySpans(start, HOUR, 24 + 23 + 24 + 6);
    power.mean.fill(100);
    power.mean.fill(NaN, 47, 51);
    const outside = emptySpans(start, HOUR, power.length);
    outside.mean.fill(8);
    const days = weatherDays(power, outside, profileCalendar('Europe/Lisbon', power));
    expect(days.map((d) => [d.energy, d.celsius, d.kind])).toEqual([
      [2400, 8, 'closed'],
      [2300, 8, 'closed'],
    ]);
  });

  it.each([
    ['nine days', daysOf([1, 2, 3, 4, 5, 6, 7, 8, 9], [9, 8, 7, 6, 5, 4, 3, 2, 1])],
    ['days that are alike', daysOf(Array(30).fill(15.2), Array(30).fill(5))],
    ['days that all take the same', daysOf([...Array(30).keys()], Array(30).fill(5))],
    ['no day', []],
  ])('of %s nothing is told', (_, days) => {
    expect(weatherFit(days)).toBeNull();
  });
});
