import { proposedPurpose } from './purpose.js';

// How such places are called is common practice (trade); these names are made up.
it.each([
  ['Deck oven', 'cooking'],
  ['Hot-water cylinder', 'hot-water'],
  ['Office and network', 'office'],
  ['PV and battery inverter', 'storage'],
  ['Roof plant', 'roof'],
  ['Van charger', 'vehicle'],
  ['Spiral mixer', 'drives'],
  ['Walk-in cold room', 'cooling'],
  ['Bakery lighting', 'lighting'],
  ['Dough prover', 'cooking'],
  ['Extraction fan', 'ventilation'],
  ['Espresso machine', 'cooking'],
  ['Display counter', 'cooling'],
  ['Dishwasher', 'washing'],
  ['Defrost heater', 'heating'],
  ['Heat pump', 'heating'],
  ['Line 7', null],
])('“%s” is proposed for %s', (name, purpose) => expect(proposedPurpose([name])).toBe(purpose));

it('takes what it reads before the place it hangs on, and its own name before both', () => {
  expect(proposedPurpose(['Block A', 'Walk-in cold room'])).toBe('cooling');
  expect(
    proposedPurpose(['Block A', 'Walk-in cold room'], [{ quantity: 'state-of-charge', phase: null }]),
  ).toBe('storage');
  expect(proposedPurpose(['Solar thermal pump'], [{ quantity: 'state-of-charge', phase: null }])).toBe(
    'roof',
  );
});
