import { limitMargin } from './limitMargin.js';

it.each([
  [16, 10, 0.5, 'clear'],
  [10.4, 10, 0.5, 'within'],
  [10.5, 10, 0.5, 'within'],
  [10.51, 10, 0.5, 'clear'],
  [10, 10, 0.5, 'below'],
  [8, 10, 0.5, 'below'],
  [10.1, 10, 0, 'clear'],
] as const)(
  'a limit of %d over a usual %d that may be off by %d: %s',
  (limit, usual, uncertainty, expected) => expect(limitMargin(limit, usual, uncertainty)).toBe(expected),
);
