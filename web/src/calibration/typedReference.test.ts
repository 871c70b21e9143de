import { nothingTyped, saidReference, shown } from './typedReference.js';

it.each([
  ['11.35', { reference: 11.35, flutter: 0, digit: 0.01 }],
  ['11,35', { reference: 11.35, flutter: 0, digit: 0.01 }],
  ['12', { reference: 12, flutter: 0, digit: 1 }],
  ['11.2 – 11.5', { reference: 11.35, flutter: 0.15, digit: 0.1 }],
  ['11.5-11.2', { reference: 11.35, flutter: 0.15, digit: 0.1 }],
  ['11.2 to 11.5', { reference: 11.35, flutter: 0.15, digit: 0.1 }],
  ['-5.2', { reference: -5.2, flutter: 0, digit: 0.1 }],
  ['', null],
  ['eleven', null],
  ['1 – 2 – 3', null],
])('an instrument that shows “%s”', (text, expected) => {
  const said = shown(text);
  if (expected === null) expect(said).toBeNull();
  else {
    expect(said?.reference).toBeCloseTo(expected.reference, 9);
    expect(said?.flutter).toBeCloseTo(expected.flutter, 9);
    expect(said?.digit).toBeCloseTo(expected.digit, 12);
  }
});

// A heater of 3000 W at 230 V takes 2745 W at 220 V (trade): 12.476 A.
it('a heater at another voltage than its plate', () => {
  const typed = { ...nothingTyped(230), kind: 'load' as const, watts: '3000' };
  expect(saidReference(typed, 'active-power', 220)).toMatchObject({ percent: 10, name: 'Heater' });
  const amperes = saidReference(typed, 'current', 220) as { reference: number };
  expect(amperes.reference).toBeCloseTo(12.476, 3);
  const watts = saidReference(typed, 'active-power', 220) as { reference: number };
  expect(watts.reference).toBeCloseTo(2744.8, 1);
});
it.each([
  [{ kind: 'load', watts: '' }, /are numbers/],
  [{ kind: 'load', watts: '3000', ratedVolts: '0' }, /are numbers/],
  [{ kind: 'instrument', shows: '5', percent: 'x' }, /number of percent/],
  [{ kind: 'instrument', shows: '' }, /Type what it shows/],
  [{ kind: 'instrument', shows: 'thirteen' }, /Type what it shows/],
  [{ kind: 'meter' }, /Choose the other meter/],
] as const)('%p says what is missing', (typed, says) =>
  expect(saidReference({ ...nothingTyped(230), ...typed }, 'current', 230)).toEqual({
    fault: expect.stringMatching(says) as string,
  }),
);

it.each([
  ['2.3 kW', 'active-power', { reference: 2300, digit: 100 }],
  ['12500 mA', 'current', { reference: 12.5, digit: 0.001 }],
  ['11.2 – 11.5 A', 'current', { reference: 11.35, flutter: 0.15 }],
  ['231.4V', 'voltage', { reference: 231.4 }],
  [
    '231 V',
    'current',
    { fault: expect.stringMatching(/“V” is not a unit of current; type it in A/) as string },
  ],
  ['12 apples', 'current', { fault: expect.stringMatching(/“apples” is not a unit/) as string }],
] as const)('with its unit, “%s” as %s', (shows, quantity, expected) => {
  const said = saidReference({ ...nothingTyped(230), kind: 'instrument', shows }, quantity, 230);
  for (const [key, value] of Object.entries(expected))
    if (typeof value === 'number') expect(said[key as never]).toBeCloseTo(value, 9);
    else expect(said).toMatchObject(expected);
});

it('a plate in kW is one in W', () => {
  const typed = { ...nothingTyped(230), kind: 'load' as const, watts: '3 kW' };
  expect(saidReference(typed, 'active-power', 230)).toMatchObject({ reference: 3000 });
  expect(saidReference({ ...typed, watts: '3 kA' }, 'active-power', 230)).toEqual({
    fault: expect.stringMatching(/“kA” is not a unit/) as string,
  });
});
