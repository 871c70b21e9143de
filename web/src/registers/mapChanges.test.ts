import { mapChanges } from './mapChanges.js';

const value = (key: string, more: object = {}) => ({ key, name: key.toUpperCase(), ...more });
const map = (...points: ReturnType<typeof value>[]) => ({ name: 'Meter', points, messages: [] });

it('tells what is new, changed and taken out', () =>
  expect([
    ...mapChanges(
      map(value('a'), value('b'), value('c')),
      map(value('a'), value('b', { unit: 'W' }), value('d')),
    ),
  ]).toEqual([
    ['B', 'changed'],
    ['D', 'new'],
    ['C', 'taken out'],
  ]));
it('the order of members, and members without a value, are no change', () =>
  expect(
    mapChanges(
      map(value('a', { scaling: { factor: 1, offset: 0 } })),
      map({ name: 'A', key: 'a', scaling: { offset: 0, factor: 1 }, bit: undefined } as never),
    ).size,
  ).toBe(0));
it('a value that has another name stands under the one that it had', () =>
  expect([...mapChanges(map(value('a')), map(value('a', { name: 'Oven' })))]).toEqual([['A', 'now “Oven”']]));
it('its name counts, and messages do', () => {
  const after = { name: 'Other', points: [], messages: [value('m')] };
  expect([...mapChanges(map(), after)]).toEqual([
    ['the map’s name', '“Other”'],
    ['M', 'new'],
  ]);
});
