import { forgetUnused, hold } from './forget.js';

const MINUTE = 60_000;

it('an answer that nobody looks at is forgotten after some minutes, one that somebody does is kept', () => {
  const cache = new Map<string, number>([
    ['/energy?from=1', 1],
    ['/energy?from=2', 2],
    ['/points', 3],
  ]);
  const [first, second] = [hold('/energy?from=1'), hold('/energy?from=1')];
  const other = hold('/energy?from=2');
  hold('/points');
  first();
  other();
  expect(forgetUnused(cache, Date.now())).toBe(0);
  expect(forgetUnused(cache, Date.now() + 6 * MINUTE)).toBe(1);
  expect([...cache.keys()]).toEqual(['/energy?from=1', '/points']);
  second();
  // Who comes back in time keeps it.
  const again = hold('/energy?from=1');
  expect(forgetUnused(cache, Date.now() + 6 * MINUTE)).toBe(0);
  again();
  expect(forgetUnused(cache, Date.now() + 6 * MINUTE)).toBe(1);
  expect([...cache.keys()]).toEqual(['/points']);
});
