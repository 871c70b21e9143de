import { addressOf, isWithin, minutesOf, wallOf } from './wall.js';

it.each([
  ['22:30', 1350],
  ['0:05', 5],
  ['24:00', null],
  ['7', null],
  ['07:60', null],
])('%s is minute %p of the day', (text, minute) => expect(minutesOf(text)).toBe(minute));

it('a wall is its address, and back', () => {
  const address = addressOf({ show: ['3', 'site'], every: 30, dim: ['22:00', '06:00'] });
  expect(wallOf(new URL(address, 'http://x').searchParams)).toEqual({
    show: ['3', 'site'],
    every: 30,
    dim: [1320, 360],
  });
});
it('what the address does not say, or says wrongly, is as usual', () => {
  expect(wallOf(new URLSearchParams(''))).toEqual({ show: ['site'], every: 20, dim: null });
  expect(wallOf(new URLSearchParams('every=soon&dim=22:00-never&show=,'))).toEqual({
    show: ['site'],
    every: 20,
    dim: null,
  });
  expect(wallOf(new URLSearchParams('every=0')).every).toBe(5);
});
it.each([
  [1380, [1320, 360], true],
  [300, [1320, 360], true],
  [360, [1320, 360], false],
  [720, [1320, 360], false],
  [720, [600, 800], true],
  [800, [600, 800], false],
] as [number, [number, number], boolean][])('minute %d within %j: %s', (minute, span, within) =>
  expect(isWithin(minute, span)).toBe(within),
);
