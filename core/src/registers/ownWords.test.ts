import { newPoint, ownWords } from './index.js';

const point = newPoint({ key: 'a', address: '10', type: 'int16' });

it('a value’s own words of those that were read with its second register', () => {
  expect(ownWords(point, [7])).toEqual([7]);
  expect(ownWords({ ...point, companion: { role: 'exponent', address: '12' } }, [7, 8, 9])).toEqual([7]);
  expect(ownWords({ ...point, companion: { role: 'exponent', address: '8' } }, [5, 6, 7])).toEqual([7]);
  expect(
    ownWords(
      { ...point, type: 'float32', companion: { role: 'decimals', address: '9', digits: 2 } },
      [1, 2, 3],
    ),
  ).toEqual([2, 3]);
});
