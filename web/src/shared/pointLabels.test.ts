import type { Point } from '@loka/contract/points';
import type { Phase, Quantity } from '@loka/core/quantities';
import { labelsOf } from './pointLabels.js';

const point = (name: string, quantity: Quantity, phase: Phase | null, deviceName = 'Inverter') =>
  ({ deviceName, phase, definition: { name, quantity } }) as Point;

it('by quantity and conductor, where that tells them apart', () => {
  expect(
    labelsOf([
      point('U1', 'voltage', 'L1'),
      point('U2', 'voltage', 'L2'),
      point('P', 'active-power', 'total'),
    ]),
  ).toEqual(['Voltage L1', 'Voltage L2', 'Active power']);
});
it('by their own names where two would be called the same, and by their devices where that does not help', () => {
  expect(labelsOf([point('PV voltage', 'voltage', 'DC'), point('Battery voltage', 'voltage', 'DC')])).toEqual(
    ['PV voltage', 'Battery voltage'],
  );
  expect(
    labelsOf([
      point('Voltage', 'voltage', 'DC', 'Sensor 1'),
      point('Voltage', 'voltage', 'DC', 'Sensor 2'),
      point('PV voltage', 'voltage', 'DC'),
      point('Current', 'current', 'DC'),
    ]),
  ).toEqual(['Sensor 1, Voltage', 'Sensor 2, Voltage', 'PV voltage', 'Current DC']);
});
it('what its quantity says nothing of has its own name', () => {
  expect(labelsOf([point('State', 'other', null)])).toEqual(['State']);
  expect(labelsOf([])).toEqual([]);
});
