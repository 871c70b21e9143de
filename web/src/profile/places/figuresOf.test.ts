import type { PlaceProfile } from '@loka/contract/profile';
import { emptySpans, profileCalendar, profileOf } from '@loka/core/profile';
import { figuresOf } from './figuresOf.js';

const MINUTE = 60_000;
const DAY = 1440 * MINUTE;
const START = Date.UTC(2026, 10, 2);

/** Days from a Monday. */
function profile(days: number, watts: (minute: number) => number): PlaceProfile {
  const spans = emptySpans(START, MINUTE, (days * DAY) / MINUTE);
  for (let i = 0; i < spans.length; i++)
    for (const c of [spans.mean, spans.min, spans.max, spans.last]) c[i] = watts(i);
  const found = profileOf(spans, profileCalendar('UTC', spans));
  const carpet = { ...found.carpet, watts: [...found.carpet.watts] };
  return { ...found, nodeId: 1, source: 'power', summed: null, without: [], carpet };
}

it('a machine that runs 20 minutes of each two hours', () => {
  // 50 W, and 1000 W for a sixth of the time: mean 208.33 W, 5 kWh a day; a quarter-hour at 1000 W.
  const found = figuresOf(profile(7, (m) => (m % 120 >= 30 && m % 120 < 50 ? 1000 : 50)));
  expect(found?.aDay).toBeCloseTo(5000, 6);
  expect(found?.highest).toBeCloseTo(1000, 6);
  expect(found?.standby).toBeCloseTo(50, 0);
  expect(found?.starts).toBeCloseTo(12, 1);
  expect(found?.run).toBeCloseTo(20 * MINUTE, -3);
  expect(found?.loadFactor).toBeCloseTo(208.333 / 1000, 3);
  expect(found).toMatchObject({ days: 7, read: 1 });
});

it('of what was not read there are none; half read, the days that were', () => {
  expect(figuresOf(profile(2, () => NaN))).toBeNull();
  expect(figuresOf(profile(4, (m) => (m < 2880 ? 100 : NaN)))).toMatchObject({ days: 2, read: 0.5 });
});
