import { sumOfPlaces, totalKnown } from './placeColumns.js';

const calendar = {
  borders: [0, 10, 20, 30],
  nodes: [
    {
      nodeId: 1,
      source: 'counter' as const,
      import: [5, 6, null],
      export: [0, 0, null],
      net: [5, 6, null],
      coverage: [1, 0.5, 0],
      estimated: [0, 0, 0],
    },
    {
      nodeId: 2,
      source: 'power' as const,
      import: [1, 2, 3],
      export: [1, 0, 0],
      net: [0, 2, 3],
      coverage: [1, 1, 1],
      estimated: [0, 0, 0],
    },
  ],
};

it('places add up part by part; where one is not known the sum is not', () => {
  expect(sumOfPlaces(calendar, [1, 2])).toEqual({
    borders: calendar.borders,
    import: [6, 8, null],
    export: [1, 0, null],
    net: [5, 8, null],
    coverage: [1, 0.5, 0],
    sources: ['counter', 'power'],
  });
  expect(sumOfPlaces(calendar, [9])).toMatchObject({
    net: [null, null, null],
    coverage: [0, 0, 0],
    sources: [],
  });
});
it('a total is of what is known, up to an instant where one is compared', () => {
  const columns = sumOfPlaces(calendar, [2]);
  expect(totalKnown(columns, 'import')).toBe(6);
  expect(totalKnown(columns, 'import', 20)).toBe(3);
  expect(totalKnown(sumOfPlaces(calendar, [9]), 'net')).toBeNull();
});
