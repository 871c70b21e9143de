import { expectation, fitFindings } from './index.js';
import { feedsIn } from './feedsIn.js';
import { remainderOf, sumOfParts } from '../energy/index.js';

const one = { phases: 'L1', ratedCurrent: 32 };
const three = { phases: 'L1 L2 L3', ratedCurrent: 32 };
const levels = (...args: Parameters<typeof fitFindings>) => fitFindings(...args).map((f) => f.level);

// Ratings decide (JOB 1; trade).
describe('whether a device fits a circuit', () => {
  it('what is in the path must bear what the protective device lets through', () => {
    expect(levels('series-meter', 45, one)).toEqual(['ok']);
    expect(levels('series-meter', 16, one)).toEqual(['danger']);
    expect(levels('plug-meter', 16, one)).toEqual(['danger']);
    expect(levels('plug-meter', 16, { phases: 'L1', ratedCurrent: 3 })).toEqual(['ok']);
    expect(levels('plug-meter', 63, three)).toEqual(['danger', 'ok']);
  });
  it('a clamp smaller than the breaker saturates, one far larger reads noise', () => {
    expect(levels('clamp', 30, one)).toEqual(['danger']);
    expect(levels('clamp', 60, one)).toEqual(['ok']);
    expect(levels('clamp', 600, one)).toEqual(['warn']);
  });
  it('turns through a clamp divide its range: two in a 60 A clamp leave 30 A', () => {
    expect(levels('clamp', 60, one, 2)).toEqual(['danger']);
    expect(levels('clamp', 600, { phases: 'L1', ratedCurrent: 10 }, 10)).toEqual(['ok']);
  });
  it('three phases need three clamps; three channels can serve three circuits', () => {
    expect(levels('clamp', 60, three)).toEqual(['warn', 'ok']);
    expect(levels('three-phase-meter', 65, three)).toEqual(['ok']);
    expect(fitFindings('three-phase-meter', 65, one)[0]?.message).toContain('two more single-phase circuits');
  });
  it('goes by the fuse in the plug before the breaker of the way, and by what the loads draw', () => {
    const fused = { phases: 'L1', ratedCurrent: 32, nearest: { what: 'fuse in the plug', amperes: 13 } };
    expect(levels('plug-meter', 16, fused)).toEqual(['ok']);
    expect(fitFindings('plug-meter', 16, fused)[0]?.message).toBe(
      '16 A is enough for the 13 A of the fuse in the plug.',
    );
    expect(levels('plug-meter', 10, fused)).toEqual(['danger']);
    // A fuse larger than the breaker protects nothing.
    expect(levels('plug-meter', 16, { ...fused, nearest: { what: 'plug', amperes: 63 } })).toEqual([
      'danger',
    ]);
    // An oven of 14 kW on a plug of 16 A.
    expect(levels('plug-meter', 16, { ...fused, loadAmperes: 60 })).toEqual(['ok', 'danger']);
    expect(levels('clamp', 60, { phases: 'L1', ratedCurrent: 32, loadAmperes: 70 })).toEqual(['ok']);
  });
  it('says when something is not known', () => {
    expect(levels('clamp', NaN, one)).toEqual(['warn']);
    expect(levels('series-meter', 45, { phases: 'L1', ratedCurrent: null })).toEqual(['warn']);
  });
});

describe('what a first reading tells', () => {
  const place = { nominalVoltage: 230, frequency: 50, ratedCurrent: 16, feedsIn: false };
  it.each([
    ['voltage', 'L1', 231, 'ok'],
    ['voltage', 'L1', 398, 'warn'],
    ['voltage', 'L1', 0.4, 'warn'],
    ['voltage', 'L1', 2310, 'warn'],
    ['frequency', null, 49.98, 'ok'],
    ['frequency', null, 500, 'warn'],
    ['current', 'L1', 5, 'ok'],
    ['current', 'L1', 0, 'warn'],
    ['current', 'L1', 160, 'warn'],
    ['active-power', 'L1', 1150, 'ok'],
    ['active-power', 'L1', -1150, 'warn'],
    ['active-power', 'L1', 0, 'warn'],
    ['active-power', 'L1', -1, 'warn'],
    ['power-factor', 'L1', -0.97, 'warn'],
    ['power-factor', 'L1', 0.97, 'ok'],
    ['power-factor', 'L1', 97, 'warn'],
    ['power-factor', 'L1', 0.1, 'warn'],
  ] as const)('%s on %s of %d: %s', (quantity, phase, value, level) =>
    expect(expectation(quantity, phase, value, place)?.level).toBe(level),
  );
  it('an inverter may feed in; a DC voltage may be any', () => {
    expect(expectation('active-power', 'total', -3000, { ...place, feedsIn: true })?.level).toBe('ok');
    expect(expectation('voltage', 'DC', 52, place)).toBeNull();
    expect(expectation('current', 'DC', 145, place)?.level).toBe('ok'); // not through the AC side's breaker
    expect(expectation('temperature', null, 21, place)).toBeNull();
  });
});

it('the remainder is what the parts do not cover, and says when a part is missing', () => {
  expect(remainderOf(1000, [600, 300])).toEqual({ value: 100, complete: true });
  expect(remainderOf(1000, [600, null])).toEqual({ value: 400, complete: false });
  expect(remainderOf(500, [600])).toEqual({ value: -100, complete: true });
  expect(remainderOf(null, [600])).toBeNull();
  expect(remainderOf(500, [])).toBeNull();
});
it('a sum of parts says of how many it is', () => {
  expect(sumOfParts([36, -2200, 290])).toEqual({ value: -1874, known: 3 });
  expect(sumOfParts([null, -2200, 290])).toEqual({ value: -1910, known: 2 });
  expect(sumOfParts([null, null])).toBeNull();
  expect(sumOfParts([])).toBeNull();
});

it('a place feeds in when something with a DC side or a charge is there, or by its name', () => {
  const power = { quantity: 'active-power', phase: 'total' } as const;
  expect(feedsIn({ name: 'Way 4' }, [power])).toBe(false);
  expect(feedsIn({ name: 'Way 4' }, [power, { quantity: 'voltage', phase: 'DC' }])).toBe(true);
  expect(feedsIn({ name: 'Way 4' }, [power, { quantity: 'state-of-charge', phase: null }])).toBe(true);
  expect(feedsIn({ name: 'PV and battery inverter' }, [])).toBe(true);
  expect(feedsIn({ name: 'Forklift battery charger' }, [power])).toBe(false);

  expect(feedsIn({ name: 'Deck oven' }, [power])).toBe(false);
  // What a person has said goes before what it looks like.
  expect(feedsIn({ name: 'Way 4', flow: 'both' }, [power])).toBe(true);
  expect(feedsIn({ name: 'Solar shop', flow: 'in' }, [power, { quantity: 'voltage', phase: 'DC' }])).toBe(
    false,
  );
  expect(feedsIn({ name: 'Solar shop', flow: null }, [power])).toBe(true);
});
