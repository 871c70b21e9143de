import type { PlaceWeather } from '@loka/contract/profile';
import { weatherFit, type WeatherDay } from '@loka/core/profile';
import { textOf } from '../parts.js';
import { besideSays, weatherSays } from './weatherSays.js';

const DAY = 86_400_000;
/** One kWh a day, and 100 Wh more for each degree below 15 °C; a little up and down. */
const heated = (celsius: number, i: number) =>
  1000 + 100 * Math.max(0, 15 - celsius) + (i % 2 === 0 ? 10 : -10);
const weather = (celsius: readonly number[], energy = heated, wholeDays = celsius.length): PlaceWeather => {
  const days = celsius.map((c, i): WeatherDay => ({
    start: i * DAY,
    kind: 'working',
    energy: energy(c, i),
    celsius: c,
  }));
  return { nodeId: 1, from: 0, to: wholeDays * DAY, pointId: 2, wholeDays, days, fit: weatherFit(days) };
};
const RISING = Array.from({ length: 24 }, (_, i) => 8 + 0.5 * i);

it('says the slope, the base and what came of it', () => {
  const [slope, share] = weatherSays(weather(RISING)).map(textOf);
  expect(slope).toMatch(/^Takes (99|100|101)(\.\d)? Wh more a day for each degree below 15\.0 °C\. \(± /);
  expect(slope).toContain('24 of 24 days known, with their temperature; 8.0 to 19.5 °C');
  // Degree days below 15: 7, 6.5, …, 0.5: 52.5.
  expect(share).toContain('52.5 degree days below 15.0 °C');
  expect(share).toMatch(/^5\.\d+ kWh, 18 % of what it took, came with the cold\./);
});

it('of a link without a bend it says the ends', () => {
  const cooled = (c: number, i: number) => 1000 + 50 * c + (i % 2 === 0 ? 10 : -10);
  const [slope, ends] = weatherSays(weather(RISING, cooled)).map(textOf);
  expect(slope).toMatch(/more a day for each degree that it is warmer outside\./);
  expect(ends).toMatch(/^At 8\.0 °C that makes 1\.4\d? kWh a day, at 19\.5 °C 1\.9\d? kWh\./);
});

it.each([
  [
    'too few days',
    weather([8, 9, 10, 15], heated, 30),
    /^Too few days to tell\. \(4 of 30 days known.*10 are needed/,
  ],
  ['days that are alike', weather(RISING.map(() => 15)), /^Its days were too alike in temperature/],
  ['no link', weather(RISING, (_, i) => 1000 + ((i * 7919) % 13)), /^No link with the temperature outside/],
])('%s: it says so', (_, found, words) => {
  const said = weatherSays(found).map(textOf);
  expect(said).toHaveLength(1);
  expect(said[0]).toMatch(words);
});

describe('beside another period', () => {
  const before = weather(RISING);
  const cold = [4, 5, 6, 7, 8, 9, 10];

  it('a colder one that does the same is as much', () => {
    const [said] = besideSays(weather(cold), before, 'before').map(textOf);
    // Mean of 1000 + 100·(15 − T) at 7 °C.
    expect(said).toMatch(
      /^By the line found for before these days would have taken 1\.8\d* kWh at the same temperatures; they took 1\.80 kWh/,
    );
    expect(said).toContain('no difference that these days can prove');
  });

  it('one that takes a fifth more at the same temperatures', () => {
    const [said] = besideSays(
      weather(cold, (c, i) => 1.2 * heated(c, i)),
      before,
      'before',
    ).map(textOf);
    expect(said).toMatch(/: 20 % more\./);
  });

  it('beside itself nothing differs', () => {
    expect(besideSays(before, before, 'before').map(textOf)[0]).toContain(
      'no difference that these days can prove',
    );
  });

  it('where before no line was found it says so', () => {
    expect(besideSays(weather(cold), weather(cold.slice(0, 3)), 'before').map(textOf)).toEqual([
      'For before no line was found to compare with. (3 of 3 days known, with their temperature)',
    ]);
  });
});
