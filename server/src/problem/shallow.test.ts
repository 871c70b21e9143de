import { isShallow } from './shallow.js';

const nested = (depth: number) => JSON.parse('['.repeat(depth) + ']'.repeat(depth)) as unknown;

it.each([
  [40, true],
  [41, true],
  [42, false],
  [500_000, false],
])('%i brackets', (depth, shallow) => expect(isShallow(nested(depth))).toBe(shallow));
it('a wide value is looked through, whatever lies in it', () =>
  expect(isShallow(Array.from({ length: 200_000 }, (_, i) => ({ i, more: [null, 'x'] })))).toBe(true));
