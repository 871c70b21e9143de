import { newPoint, type PointDefinition } from '@loka/core/registers';
import { type Scaling } from '@loka/core/points';
import { factor, rows, type Row, type ShippedMap } from './rows.js';

export function clampNode(): ShippedMap {
  const counts = (value: number): Scaling => ({
    kind: 'pairs',
    raw1: 0,
    value1: 0,
    raw2: 9999,
    value2: value,
  });
  const points = [1, 2, 3, 4].flatMap((channel): PointDefinition[] => {
    const base = 90 + 10 * channel;
    return rows({}, [
      {
        key: `current-${channel}`,
        name: `Current ${channel}`,
        quantity: 'current',
        unit: 'A',
        address: String(base),
        type: 'uint16',
        scaling: counts(60),
      },
      {
        key: `power-${channel}`,
        name: `Active power ${channel}`,
        quantity: 'active-power',
        unit: 'W',
        address: String(base + 1),
        type: 'int16',
        scaling: counts(14_000),
      },
      {
        key: `power-factor-${channel}`,
        name: `Power factor ${channel}`,
        quantity: 'power-factor',
        unit: '',
        address: String(base + 2),
        type: 'int16',
        scaling: factor(0.001),
      },
    ]);
  });
  return {
    name: 'Four-channel clamp node, raw counts',
    description:
      'Input registers 100, 110, 120, 130: current (9999 counts are 60 A), active power (9999 counts are 14 kW), power factor in thousandths.',
    points,
  };
}

export function relayBoard(): ShippedMap {
  const points = [1, 2, 3, 4].flatMap((relay): PointDefinition[] => {
    const common = {
      quantity: 'contact-state',
      unit: '',
      type: 'bool',
      address: String(relay - 1),
      intervalMs: 500,
    } as const;
    return [
      newPoint({ ...common, key: `relay-${relay}`, name: `Relay ${relay}`, kind: 'coil', access: 'write' }),
      newPoint({ ...common, key: `contact-${relay}`, name: `Contact ${relay}`, kind: 'discrete' }),
    ];
  });
  return {
    name: 'Relay board, four coils',
    description: 'Coils from 0 close the relays; discrete inputs from 0 report the contacts.',
    points,
  };
}

export function numberedValues(): ShippedMap {
  return {
    name: 'Measuring module, sixteen numbered values',
    description:
      'Floats in input registers from 0 without names. “Which one moves?” finds out what they are.',
    points: rows(
      {},
      Array.from({ length: 16 }, (_, i): Row => ({
        key: `value-${i + 1}`,
        name: `Value ${i + 1}`,
        quantity: 'other',
        unit: '',
        address: String(2 * i),
        type: 'float32',
      })),
    ),
  };
}
