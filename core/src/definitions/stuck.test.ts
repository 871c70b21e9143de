import { newPoint } from '../registers/index.js';
import { newMessage } from '../messages/index.js';
import { stepOf } from './step.js';
import { isStuck } from './stuck.js';

const MIN = 60_000;
// The times and the fineness are common practice, and named so where they stand.
it.each([
  ['a voltage in tenths, still for ten minutes', 'voltage', 230.1, 0.1, 10 * MIN, true],
  ['for nine', 'voltage', 230.1, 0.1, 9 * MIN, false],
  ['in whole volts it may stay in one step', 'voltage', 230, 1, 60 * MIN, false],
  ['the frequency in hundredths', 'frequency', 50.01, 0.01, 10 * MIN, true],
  ['in tenths', 'frequency', 50, 0.1, 60 * MIN, false],
  ['a load that is off', 'active-power', 0, 0, 600 * MIN, false],
  ['a running load to the last digit', 'active-power', 481.0372, 0, 30 * MIN, true],
  ['a running load in whole watts', 'active-power', 480, 1, 600 * MIN, false],
  ['a current for twenty-nine minutes', 'current', 3.2, 0.001, 29 * MIN, false],
  ['a current the wrong way round', 'current', -3.2, 0.001, 30 * MIN, true],
  ['a counter', 'energy-import', 1234, 0, 600 * MIN, false],
  ['a temperature', 'temperature', 20.5, 0, 600 * MIN, false],
  ['a contact', 'contact-state', 1, 0, 600 * MIN, false],
] as const)('%s', (_, quantity, value, step, sameFor, stuck) =>
  expect(isStuck({ quantity, phase: 'L1' }, value, step, sameFor)).toBe(stuck),
);
it.each([
  // 0.1 V a count
  [
    newPoint({
      key: 'v',
      type: 'uint16',
      quantity: 'voltage',
      unit: 'V',
      scaling: { kind: 'factor', factor: 0.1, offset: 5 },
    }),
    0.1,
  ],
  // 0.01 kW a count
  [
    newPoint({
      key: 'v',
      type: 'int32',
      quantity: 'active-power',
      unit: 'kW',
      scaling: { kind: 'factor', factor: 0.01, offset: 0 },
    }),
    10,
  ],
  // 0–9999 stands for 0–60 A: 60 / 9999
  [
    newPoint({
      key: 'v',
      type: 'uint16',
      quantity: 'current',
      unit: 'A',
      scaling: { kind: 'pairs', raw1: 0, value1: 0, raw2: 9999, value2: 60 },
    }),
    0.0060006,
  ],
  [newPoint({ key: 'v', type: 'float32', quantity: 'voltage', unit: 'V' }), 0],
  [newMessage({ key: 'v', quantity: 'voltage', unit: 'V' }), 0],
])('the step of %j', (definition, step) => expect(stepOf(definition)).toBeCloseTo(step, 7));

it.each([
  [83, 'W', 1],
  [83.1, 'W', 0.1],
  [231.25, 'W', 0.01],
  // 0.083 kW came: a step of a watt
  [83, 'kW', 1],
  [1500, 'kW', 100],
])('a message that says %d %s is told in steps of %d', (read, unit, step) =>
  expect(stepOf(newMessage({ key: 'v', quantity: 'active-power', unit }), read)).toBeCloseTo(step, 9),
);

it('the voltage of a battery at rest is still', () =>
  expect(isStuck({ quantity: 'voltage', phase: 'DC' }, 48.6, 0.01, 600 * MIN)).toBe(false));
