import { newPoint, type PointDefinition } from '@loka/core/registers';
import { knownPoint } from '../../../test/support/knownPoint.js';
import { Polls } from './polls.js';

let id = 0;
const point = (deviceId: number, address: number, more: Partial<PointDefinition> = {}) =>
  knownPoint(++id, deviceId, newPoint({ key: `v${address}`, address: String(address), ...more }));
/** Two values side by side, one beyond a small gap; and another device's. */
const polls = () => new Polls([point(1, 0), point(1, 1), point(1, 5), point(2, 0)], 125);
const words = (of: Polls, deviceId = 1) => of.ofDevice(deviceId).map((poll) => poll.words);
const first = (of: Polls, at = 'holding') => of.ofDevice(1).find((poll) => poll.words.startsWith(at))!;
const MINUTE = 60_000;

it('one request a device and interval; what is only written, or lies nowhere, is not asked for', () => {
  const list = new Polls(
    [
      point(1, 0),
      point(1, 1, { intervalMs: 5000 }),
      point(1, 2, { access: 'write' }),
      point(1, 3, { address: 'soon' }),
    ],
    125,
  );
  expect(list.all.map((poll) => [poll.words, poll.intervalMs])).toEqual([
    ['holding 0', 1000],
    ['holding 1', 5000],
  ]);
});
it('a refused request is cut at its gaps, then one by one; the other device’s stays', () => {
  const list = polls();
  expect(words(list)).toEqual(['holding 0–5']);
  list.cut(first(list), 0);
  expect(words(list)).toEqual(['holding 0–1', 'holding 5']);
  list.cut(first(list), 0);
  expect(words(list)).toEqual(['holding 0', 'holding 1', 'holding 5']);
  expect(words(list, 2)).toEqual(['holding 0']);
});
it('is made as a whole again when all its parts have been answered for a minute', () => {
  const list = polls();
  list.cut(first(list), 0);
  expect(list.answered(first(list), MINUTE - 1)).toEqual([]);
  const parts = list.answered(first(list), MINUTE);
  expect(parts.map((poll) => poll.words)).toEqual(['holding 0–1', 'holding 5']);
  expect(words(list)).toEqual(['holding 0–5']);
  expect(list.answered(first(list), 2 * MINUTE)).toEqual([]);
});
it('waits longer each time that the whole is refused again', () => {
  const list = polls();
  list.cut(first(list), 0);
  list.answered(first(list), MINUTE);
  list.cut(first(list), MINUTE);
  expect(list.answered(first(list), 5 * MINUTE - 1)).toEqual([]);
  expect(list.answered(first(list), 5 * MINUTE)).toHaveLength(2);
  list.cut(first(list), 5 * MINUTE);
  expect(list.answered(first(list), 20 * MINUTE)).toEqual([]);
  expect(list.answered(first(list), 21 * MINUTE)).toHaveLength(2);
});
it('a part that goes on being refused keeps the whole cut, and what lies around it', () => {
  const list = polls();
  list.cut(first(list), 0);
  list.cut(first(list, 'holding 0'), 0);
  for (let now = 0; now < 60 * MINUTE; now += 1000) {
    list.failed(first(list, 'holding 1'), now);
    expect(list.answered(first(list, 'holding 5'), now)).toEqual([]);
  }
  expect(words(list)).toEqual(['holding 0', 'holding 1', 'holding 5']);
});
it('parts of parts are joined from without, all at once', () => {
  const list = polls();
  list.cut(first(list), 0);
  list.cut(first(list, 'holding 0'), 30_000);
  // Within, a minute has not passed yet; the outer cut was answered well since its own beginning.
  list.failed(first(list, 'holding 5'), 45_000);
  expect(list.answered(first(list, 'holding 5'), 90_000)).toEqual([]);
  expect(list.answered(first(list, 'holding 0'), 90_000).map((p) => p.words)).toEqual([
    'holding 0',
    'holding 1',
  ]);
  expect(words(list).sort()).toEqual(['holding 0–1', 'holding 5']);
  expect(list.answered(first(list, 'holding 5'), 105_000)).toHaveLength(2);
  expect(words(list)).toEqual(['holding 0–5']);
});
it('a request that is made seldom waits for three of its intervals', () => {
  const list = new Polls([point(1, 0, { intervalMs: MINUTE }), point(1, 1, { intervalMs: MINUTE })], 125);
  list.cut(first(list), 0);
  expect(list.answered(first(list), 3 * MINUTE - 1)).toEqual([]);
  expect(list.answered(first(list), 3 * MINUTE)).toHaveLength(2);
});
