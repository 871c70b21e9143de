import type { Phase, Quantity } from '@loka/core/quantities';
import { factor, LINES, rows, type Row, type ShippedMap } from './rows.js';

export function threePhaseMeter(): ShippedMap {
  const values: [key: string, name: string, quantity: Quantity, unit: string, phase: Phase | null][] = [
    ['voltage-l1', 'Voltage L1', 'voltage', 'V', 'L1'],
    ['voltage-l2', 'Voltage L2', 'voltage', 'V', 'L2'],
    ['voltage-l3', 'Voltage L3', 'voltage', 'V', 'L3'],
    ['current-l1', 'Current L1', 'current', 'A', 'L1'],
    ['current-l2', 'Current L2', 'current', 'A', 'L2'],
    ['current-l3', 'Current L3', 'current', 'A', 'L3'],
    ['power-l1', 'Active power L1', 'active-power', 'W', 'L1'],
    ['power-l2', 'Active power L2', 'active-power', 'W', 'L2'],
    ['power-l3', 'Active power L3', 'active-power', 'W', 'L3'],
    ['power-total', 'Active power', 'active-power', 'W', 'total'],
    ['power-factor', 'Power factor', 'power-factor', '', 'total'],
    ['frequency', 'Frequency', 'frequency', 'Hz', null],
    ['energy-import', 'Energy imported', 'energy-import', 'kWh', 'total'],
    ['energy-export', 'Energy exported', 'energy-export', 'kWh', 'total'],
  ];
  return {
    name: 'Three-phase meter, float map',
    description:
      'Floats in input registers from 0, two registers each, most significant word first. Settings in holding registers from 1000: the transformer’s two currents, the wiring mode, a gain for each line.',
    points: [
      ...rows(
        {},
        values.map(([key, name, quantity, unit, phase], i) => ({
          key,
          name,
          quantity,
          unit,
          phase,
          address: String(2 * i),
          type: 'float32' as const,
        })),
      ),
      ...rows({ kind: 'holding', access: 'setting' }, [
        {
          key: 'primary-current',
          name: 'Transformer, primary current',
          quantity: 'current',
          unit: 'A',
          address: '1000',
          type: 'uint16',
          setting: 'primary-current',
        },
        {
          key: 'secondary-current',
          name: 'Transformer, secondary current',
          quantity: 'current',
          unit: 'A',
          address: '1001',
          type: 'uint16',
          setting: 'secondary-current',
        },
        {
          key: 'wiring-mode',
          name: 'Wiring mode',
          quantity: 'other',
          unit: '',
          address: '1002',
          type: 'uint16',
          setting: 'wiring-mode',
          names: [
            { value: 0, name: 'three phases with neutral' },
            { value: 1, name: 'L1 alone' },
          ],
        },
        ...LINES.map((phase, i): Row => ({
          key: `gain-${phase.toLowerCase()}`,
          name: `Gain of the current ${phase}`,
          quantity: 'other',
          unit: '',
          phase,
          address: String(1003 + i),
          type: 'uint16',
          scaling: factor(0.0001),
          setting: 'current-gain',
        })),
      ]),
    ],
  };
}

export function singlePhaseMeter(): ShippedMap {
  return {
    name: 'Single-phase meter, integer map',
    description:
      'Whole numbers in input registers from 0: tenths of volts, milliamperes, tenths of watts, tens of watt-hours. Writing 1 to holding register 100 clears the peak; from 200 its settings: a gain of the current, and the interval in which it measures.',
    points: [
      ...rows({}, [
        {
          key: 'voltage',
          name: 'Voltage',
          quantity: 'voltage',
          unit: 'V',
          address: '0',
          type: 'uint16',
          scaling: factor(0.1),
        },
        { key: 'current', name: 'Current', quantity: 'current', unit: 'mA', address: '1', type: 'uint32' },
        {
          key: 'power',
          name: 'Active power',
          quantity: 'active-power',
          unit: 'W',
          address: '3',
          type: 'int32',
          scaling: factor(0.1),
        },
        {
          key: 'power-factor',
          name: 'Power factor',
          quantity: 'power-factor',
          unit: '',
          address: '5',
          type: 'int16',
          scaling: factor(0.001),
        },
        {
          key: 'frequency',
          name: 'Frequency',
          quantity: 'frequency',
          unit: 'Hz',
          address: '6',
          type: 'uint16',
          scaling: factor(0.01),
        },
        {
          key: 'energy-import',
          name: 'Energy imported',
          quantity: 'energy-import',
          unit: 'Wh',
          address: '7',
          type: 'uint32',
          scaling: factor(10),
          intervalMs: 5000,
        },
        {
          key: 'peak-power',
          name: 'Peak power',
          quantity: 'maximum-demand',
          unit: 'W',
          address: '9',
          type: 'uint32',
          scaling: factor(0.1),
          intervalMs: 5000,
        },
      ]),
      ...rows({ kind: 'holding', access: 'write', send: 1 }, [
        {
          key: 'clear-peak',
          name: 'Clear the peak',
          quantity: 'other',
          unit: '',
          address: '100',
          type: 'uint16',
        },
      ]),
      ...rows({ kind: 'holding', access: 'setting' }, [
        {
          key: 'gain',
          name: 'Gain of the current',
          quantity: 'other',
          unit: '',
          address: '200',
          type: 'uint16',
          scaling: factor(0.0001),
          setting: 'current-gain',
        },
        {
          key: 'interval',
          name: 'Measuring interval',
          quantity: 'duration',
          unit: 's',
          address: '201',
          type: 'uint16',
          scaling: factor(0.1),
          setting: 'report-interval',
        },
      ]),
    ],
  };
}

export function swappedMeter(): ShippedMap {
  return {
    name: 'Motor meter, floats with the low word first',
    description: 'Floats in holding registers from 4000, two registers each, least significant word first.',
    points: rows({ kind: 'holding', type: 'float32', wordOrder: 'low-first' }, [
      ...LINES.map((phase, i): Row => ({
        key: `voltage-${phase.toLowerCase()}`,
        name: `Voltage ${phase}`,
        quantity: 'voltage',
        unit: 'V',
        phase,
        address: String(4000 + 2 * i),
        type: 'float32',
      })),
      ...LINES.map((phase, i): Row => ({
        key: `current-${phase.toLowerCase()}`,
        name: `Current ${phase}`,
        quantity: 'current',
        unit: 'A',
        phase,
        address: String(4006 + 2 * i),
        type: 'float32',
      })),
      {
        key: 'power-total',
        name: 'Active power',
        quantity: 'active-power',
        unit: 'W',
        phase: 'total',
        address: '4012',
        type: 'float32',
      },
      {
        key: 'power-factor',
        name: 'Power factor',
        quantity: 'power-factor',
        unit: '',
        phase: 'total',
        address: '4014',
        type: 'float32',
      },
      {
        key: 'energy-import',
        name: 'Energy imported',
        quantity: 'energy-import',
        unit: 'Wh',
        phase: 'total',
        address: '4016',
        type: 'float32',
        intervalMs: 5000,
      },
    ]),
  };
}

export function countsFromOne(): ShippedMap {
  const value = (key: string, name: string, quantity: Quantity, unit: string, at: number): Row => ({
    key,
    name,
    quantity,
    unit,
    address: String(at),
    type: 'int16',
    companion: { role: 'decimals', address: String(at + 1), digits: 2 },
  });
  return {
    name: 'Meter that counts from 1, decimals in a register of their own',
    description:
      'Input registers from 101 as its table counts (100 on the wire): whole units, then hundredths.',
    points: rows({ counting: 'from-1' }, [
      value('voltage', 'Voltage', 'voltage', 'V', 101),
      value('current', 'Current', 'current', 'A', 103),
      value('power', 'Active power', 'active-power', 'W', 105),
      value('power-factor', 'Power factor', 'power-factor', '', 107),
    ]),
  };
}
