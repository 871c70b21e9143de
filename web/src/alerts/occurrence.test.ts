import { conditionOf, whenOf } from './occurrence.js';

const RAISED = Date.UTC(2026, 10, 27, 6, 35, 9);

it.each([
  [null, 'since 27 Nov 06:35:09'],
  [Date.UTC(2026, 10, 27, 6, 38), '27 Nov 06:35:09 to 06:38:00'],
  [Date.UTC(2026, 10, 28, 0, 1), '27 Nov 06:35:09 to 28 Nov 00:01:00'],
])('an alert that is over at %s was %s', (returnedAt, words) =>
  expect(whenOf({ raisedAt: RAISED, returnedAt }, 'UTC', 'HH:mm:ss')).toBe(words),
);

it('goes by the clock of the site', () => {
  expect(whenOf({ raisedAt: RAISED, returnedAt: null }, 'Europe/Berlin', 'HH:mm')).toBe('since 27 Nov 07:35');
});

it('a sentence loses its full stop where more follows it', () => {
  expect(conditionOf({ condition: 'Only 25 % of it is read.' })).toBe('Only 25 % of it is read');
  expect(conditionOf({ condition: 'above 1.5 kW' })).toBe('above 1.5 kW');
});
