import { jest } from '@jest/globals';
import { forgetUnused, hold, keyOf, pathOf } from './forget.js';

const MINUTE = 60_000;

it('an answer that nobody looks at is forgotten after some minutes, one that somebody does is kept', () => {
  const asked = ['/energy?from=1', '/energy?from=2', '/points'];
  const cache = new Map(asked.map((path) => [keyOf(path), path]));
  const left = () => [...cache.values()];
  const [first, second] = [hold('/energy?from=1'), hold('/energy?from=1')];
  const other = hold('/energy?from=2');
  hold('/points');
  first();
  other();
  expect(forgetUnused(cache, Date.now())).toBe(0);
  expect(forgetUnused(cache, Date.now() + 6 * MINUTE)).toBe(1);
  expect(left()).toEqual(['/energy?from=1', '/points']);
  second();
  // Who comes back in time keeps it.
  const again = hold('/energy?from=1');
  expect(forgetUnused(cache, Date.now() + 6 * MINUTE)).toBe(0);
  again();
  expect(forgetUnused(cache, Date.now() + 6 * MINUTE)).toBe(1);
  expect(left()).toEqual(['/points']);
});

it('a period that goes on with the clock for two days takes a handful of keys, and each stands for its own path', () => {
  const [cache, used] = [new Map<string, string>(), new Set<string>()];
  const clock = jest.spyOn(Date, 'now');
  try {
    for (let minute = 0; minute < 2 * 1440; minute++) {
      clock.mockReturnValue(1e12 + minute * MINUTE);
      const path = `/readings?points=7&from=${minute}&to=${minute + 1440}`;
      const key = keyOf(path);
      expect(keyOf(path)).toBe(key);
      expect(pathOf(key)).toBe(path);
      // What says that readings have changed finds it by its beginning.
      expect(key.startsWith('/readings?')).toBe(true);
      const letGo = hold(path);
      cache.set(key, path);
      used.add(key);
      letGo();
      forgetUnused(cache, Date.now());
    }
  } finally {
    clock.mockRestore();
  }
  expect(used.size).toBeLessThan(10);
  expect(cache.size).toBeLessThan(10);
});

it('two that are looked at never share a key; one that was only asked for and never drawn is forgotten as well', () => {
  const paths = Array.from({ length: 50 }, (_, i) => `/balance?from=${i}&to=9`);
  const held = paths.map((path) => hold(path));
  expect(new Set(paths.map(keyOf)).size).toBe(50);
  held.forEach((letGo) => letGo());
  keyOf('/balance?from=77&to=9');
  const cache = new Map<string, string>();
  expect(forgetUnused(cache, Date.now() + 6 * MINUTE)).toBeGreaterThanOrEqual(51);
  // The same path has its answer again, under whatever key.
  expect(pathOf(keyOf('/balance?from=77&to=9'))).toBe('/balance?from=77&to=9');
});

it('what does not move keeps its own path', () => {
  expect(keyOf('/points')).toBe('/points');
  expect(keyOf('/totals?node=3')).toBe('/totals?node=3');
});
