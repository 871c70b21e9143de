import { BODY_LIMITS, beyondReason, fewParts } from './bodies.js';

const nested = (depth: number) => JSON.parse('['.repeat(depth) + ']'.repeat(depth)) as unknown;
const list = (length: number, of: unknown = 0) => Array.from({ length }, () => of);

it.each([
  [40, null],
  [41, null],
  [42, 'nested'],
  [500_000, 'nested'],
])('%i brackets', (depth, why) =>
  why === null
    ? expect(beyondReason(nested(depth), BODY_LIMITS)).toBeNull()
    : expect(beyondReason(nested(depth), BODY_LIMITS)).toMatch(why),
);
it.each([
  ['a list as long as may be', list(1000), null],
  ['a longer one', { points: list(1001) }, 'a list of 1001'],
  ['lists in a list', list(20, list(1000)), 'more than 20000 parts'],
  ['as many parts as may be', list(19, list(1000)), null],
  [
    'an object of many members',
    Object.fromEntries(list(501).map((_, i) => [`k${i}`, 0])),
    '501 members in one place',
  ],
  ['nothing', undefined, null],
  ['a text', 'x'.repeat(100_000), null],
  ['null in a list', [null, { a: null }], null],
])('%s', (_, value, why) =>
  why === null
    ? expect(beyondReason(value, BODY_LIMITS)).toBeNull()
    : expect(beyondReason(value, BODY_LIMITS)).toContain(why),
);

it.each([
  [50_000, false],
  [50_001, true],
])('%i commas, refused before it is parsed: %s', (commas, refused) => {
  const ask = () => fewParts(null, null, Buffer.from(`[${'0,'.repeat(commas)}0]`));
  if (refused) expect(ask).toThrow('more than 50000 parts');
  else expect(ask).not.toThrow();
});
