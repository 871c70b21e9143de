import type { Scaling } from '@loka/core/points';
import { factor, rows, type Row, type ShippedMap } from './rows.js';

export function inverter(): ShippedMap {
  const bit = (key: string, name: string, n: number): Row => ({
    key,
    name,
    quantity: 'contact-state',
    unit: '',
    address: '510',
    type: 'bool',
    bit: n,
  });
  return {
    name: 'Hybrid inverter with battery',
    description:
      'Holding registers from 500: power of roof and battery (positive while it discharges), charge, states.',
    points: rows({ kind: 'holding' }, [
      {
        key: 'pv-power',
        name: 'PV power',
        quantity: 'active-power',
        unit: 'W',
        address: '500',
        type: 'int32',
        phase: 'total',
      },
      {
        key: 'pv-voltage',
        name: 'PV voltage',
        quantity: 'voltage',
        unit: 'V',
        address: '502',
        type: 'uint16',
        scaling: factor(0.1),
        phase: 'DC',
      },
      {
        key: 'battery-power',
        name: 'Battery power',
        quantity: 'active-power',
        unit: 'W',
        address: '503',
        type: 'int32',
        phase: 'DC',
      },
      {
        key: 'battery-voltage',
        name: 'Battery voltage',
        quantity: 'voltage',
        unit: 'V',
        address: '505',
        type: 'uint16',
        scaling: factor(0.01),
        phase: 'DC',
      },
      {
        key: 'state-of-charge',
        name: 'State of charge',
        quantity: 'state-of-charge',
        unit: '%',
        address: '506',
        type: 'uint16',
        scaling: factor(0.1),
        intervalMs: 5000,
      },
      {
        key: 'pv-energy',
        name: 'PV energy',
        quantity: 'energy-export',
        unit: 'Wh',
        address: '507',
        type: 'uint32',
        scaling: factor(100),
        phase: 'total',
        intervalMs: 5000,
      },
      {
        key: 'state',
        name: 'State',
        quantity: 'other',
        unit: '',
        address: '509',
        type: 'uint16',
        names: [
          { value: 1, name: 'standing by' },
          { value: 2, name: 'feeding' },
        ],
      },
      bit('feeding', 'Feeding', 0),
      bit('charging', 'Charging', 1),
      bit('discharging', 'Discharging', 2),
      {
        key: 'reserve',
        name: 'Kept in the battery',
        quantity: 'state-of-charge',
        unit: '%',
        address: '520',
        type: 'uint16',
        scaling: factor(0.1),
        intervalMs: 10_000,
        access: 'read-write',
      },
    ]),
  };
}

export function dcSensor(): ShippedMap {
  const signed = (value: number): Scaling => ({
    kind: 'pairs',
    raw1: -8000,
    value1: -value,
    raw2: 8000,
    value2: value,
  });
  return {
    name: 'DC sensor, Hall current and voltage tap',
    description: 'Input registers 0 and 1, signed counts: 8000 counts are 200 A and 80 V.',
    points: rows({ phase: 'DC', type: 'int16' }, [
      {
        key: 'dc-current',
        name: 'Current',
        quantity: 'current',
        unit: 'A',
        address: '0',
        type: 'int16',
        scaling: signed(200),
      },
      {
        key: 'dc-voltage',
        name: 'Voltage',
        quantity: 'voltage',
        unit: 'V',
        address: '1',
        type: 'int16',
        scaling: signed(80),
      },
    ]),
  };
}
