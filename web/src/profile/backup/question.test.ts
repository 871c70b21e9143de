import fc from 'fast-check';
import { backupAddress, putQuestion, questionOf, roundedUp, TYPED, USUAL } from './question.js';
import { typed } from '../typed.js';

const of = (text: string) => questionOf(new URLSearchParams(text));

it('of an address without a question it is the usual one, and that needs no address', () => {
  expect(of('at=4&period=today')).toEqual(USUAL);
  const search = new URLSearchParams('at=4&source=1,2,3,4,5,6,7&with=3');
  putQuestion(search, USUAL);
  expect(search.toString()).toBe('at=4');
});

it('what an address says, as far as it makes sense', () => {
  expect(of('source=300,600,5,1500,0.85,0.5,3600000&with=7,9,7&sun=12x0.5')).toEqual({
    continuous: 300,
    peak: 600,
    peakFor: 5,
    energy: 1500,
    efficiency: 0.85,
    charged: 0.5,
    lasting: 3_600_000,
    also: [7, 9],
    sun: { node: 12, times: 0.5 },
  });
  expect(of('source=much,,-3,NaN&with=x,-1,1.5&sun=seven')).toEqual(USUAL);
  expect(of('sun=12').sun).toEqual({ node: 12, times: 1 });
});

it('a question comes out of its address as it went in', () =>
  fc.assert(
    fc.property(
      fc.record({
        continuous: fc.integer({ min: 1, max: 1e6 }),
        energy: fc.integer({ min: 0, max: 1e6 }),
        efficiency: fc.integer({ min: 1, max: 100 }).map((n) => n / 100),
        also: fc.uniqueArray(fc.integer({ min: 1, max: 99 }), { maxLength: 5 }),
        sun: fc.option(
          fc.record({ node: fc.integer({ min: 1, max: 99 }), times: fc.integer({ min: 0, max: 9 }) }),
        ),
      }),
      (part) => {
        const question = { ...USUAL, ...part };
        const search = new URLSearchParams();
        putQuestion(search, question);
        expect(questionOf(search)).toEqual(question);
      },
    ),
  ));

it('values are typed in their units', () => {
  expect(typed(2000, TYPED.energy)).toBe('2');
  expect(typed(0.9, TYPED.efficiency)).toBe('90');
  expect(typed(0.29, TYPED.efficiency)).toBe('29');
  expect(typed(90 * 60_000, TYPED.lasting)).toBe('1.5');
});

it('the server is asked for all loads, and for one failure where one is chosen', () => {
  const address = backupAddress(5, 10, 20, { ...USUAL, also: [7], sun: { node: 12, times: 2 } }, 15);
  const search = new URLSearchParams(address.split('?')[1]);
  expect(Object.fromEntries(search)).toEqual({
    nodes: '5,7',
    from: '10',
    to: '20',
    continuous: '2000',
    peak: '4000',
    peakFor: '2',
    energy: '2000',
    efficiency: '0.9',
    charged: '1',
    lasting: '43200000',
    sun: '12',
    times: '2',
    at: '15',
  });
});

it.each([
  [1371, 1400],
  [1400, 1400],
  [6532.4, 6600],
  [81, 81],
  [0.2, 0.2],
])('%s W are at most %s W in round figures', (value, round) =>
  expect(roundedUp(value)).toBeCloseTo(round, 9),
);
