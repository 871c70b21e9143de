import type { PlaceVoltage } from '@loka/contract/profile';
import { emptySpans, profileCalendar, voltageFigures, weeksOf } from '@loka/core/profile';
import { textOf } from '../parts.js';
import { voltageSays } from './voltageSays.js';

const MINUTE = 60_000;
const DAY = 1440 * MINUTE;
const START = Date.UTC(2026, 10, 2);

/** Two weeks from a Monday: mean, with the lowest and highest reading of the minute where they are others. */
function said(of: (minute: number) => number | [number, number, number], days = 14): string[] {
  const spans = emptySpans(START, MINUTE, days * 1440);
  for (let i = 0; i < spans.length; i++) {
    const v = of(i);
    const [min, mean, max] = typeof v === 'number' ? [v, v, v] : v;
    [spans.min[i], spans.mean[i], spans.max[i]] = [min, mean, max];
  }
  const { means, ...figures } = voltageFigures(spans, 230, weeksOf(profileCalendar('UTC', spans)));
  const voltage: PlaceVoltage = {
    nodeId: 1,
    from: START,
    to: START + days * DAY,
    nominal: 230,
    phases: [
      {
        ...figures,
        phase: 'L1',
        readEvery: 1000,
        means: [...means].map((v) => (Number.isNaN(v) ? null : v)),
      },
    ],
  };
  return voltageSays(voltage, 'UTC').map(textOf);
}

it('a good supply', () => {
  const words = said((m) => (m < 10 ? 228 : m >= 100 && m < 110 ? 236.5 : 231));
  expect(words).toEqual([
    'L1 keeps to 207 to 253 V for 100 % of what was read: lowest 228.0 V, highest 236.5 V. (2016 of 2016 ten-minute means known; lowest on Mon 2 Nov 00:00, highest on Mon 2 Nov 01:40)',
    'Keeps to EN 50160 in all of 2 whole weeks. (EN 50160 asks for 95 % of a week’s ten-minute means within ±10 %, and all of them from 195.5 to 253 V)',
    'No reading below 207 V. (read every 1 s at the slowest: what is shorter is not seen)',
    'No reading above 253 V. (read every 1 s at the slowest: what is shorter is not seen)',
  ]);
});

it('a bad one: which week, and what was short', () => {
  // 60 ten-minute means of the second week are low: 94.0 % of it are good.
  const words = said((m) =>
    m >= 10_080 && m < 10_680 ? 203 : m === 50 ? [174, 229, 231] : m === 90 ? [229, 231, 258] : 231,
  );
  expect(words[0]).toMatch(/^L1 keeps to 207 to 253 V for 97 % of what was read: lowest 203/);
  expect(words[1]).toMatch(
    /^Does not keep to EN 50160 in 1 of 2 whole weeks: in that from 9 Nov L1 lay within ±10 % for 94 %\./,
  );
  expect(words[2]).toMatch(
    /^2 times below 207 V, down to 174(\.0)? V on L1, Mon 2 Nov 00:50\. \(that one within 1 min;/,
  );
  expect(words[3]).toMatch(/^1 time above 253 V, up to 258(\.0)? V on L1, Mon 2 Nov 01:30\./);
});

it('one bad ten minutes of two weeks are not told as none', () =>
  expect(said((m) => (m < 10 ? 200 : 231))[0]).toMatch(/for 99\.95 % of what was read/));

it('a few days are no week, and of nothing nothing is said', () => {
  expect(said(() => 231, 3).some((w) => w.includes('EN 50160'))).toBe(false);
  expect(said(() => NaN)).toEqual([]);
});
