import { QUALITY } from '@loka/core/series';
import { LiveReadings } from './liveReadings.js';

const T = Date.UTC(2026, 10, 26);
const read = (
  live: LiveReadings,
  second: number,
  raw: number | null,
  t = T + second * 1000,
  at = second * 1000,
) => live.publish([{ pointId: 1, t, raw, v: raw, q: raw === null ? QUALITY.timeout : QUALITY.good, at }]);
function minute(each: (second: number, live: LiveReadings) => void): LiveReadings {
  const live = new LiveReadings();
  for (let second = 0; second < 60; second++) each(second, live);
  return live;
}

it('sixty readings alike stand still from the first to the last; fifty-nine are too few to say', () => {
  const live = minute((s, l) => read(l, s, 230.1));
  expect(live.standing(1)).toEqual({ since: T, forMs: 59_000 });
  expect(minute((s, l) => read(l, s, s === 0 ? 230 : 230.1)).standing(1)).toBeNull();
});
it('a clock that is set forward by an hour makes nothing stand longer', () =>
  expect(
    minute((s, l) => read(l, s, 230.1, T + s * 1000 + (s > 30 ? 3_600_000 : 0))).standing(1)?.forMs,
  ).toBe(59_000));
it('what is lost in between, or was said nobody knows when, changes nothing', () => {
  const live = minute((s, l) => read(l, s, 230.1));
  read(live, 60, null);
  read(live, 61, 5, T, -Infinity);
  read(live, 62, 230.1);
  expect(live.standing(1)).toEqual({ since: T, forMs: 62_000 });
  live.forget([1]);
  expect(live.standing(1)).toBeNull();
});
