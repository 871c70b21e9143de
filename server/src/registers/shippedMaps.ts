import type { Phase, Quantity } from '@loka/core/quantities';
import { UNSCALED, type PointDefinition, type Scaling } from '@loka/core/registers';
import type { RegisterMapEntity } from './registerMap.entity.js';

type Shipped = Omit<RegisterMapEntity, 'id'>;

const PLAIN = {
  counting: 'from-0',
  wordOrder: 'high-first',
  byteOrder: 'high-first',
  scaling: UNSCALED,
  access: 'read',
  intervalMs: 1000,
} as const;

/** Register maps for the kinds of device that most sites have, under neutral names. */
export const SHIPPED_MAPS: Shipped[] = [threePhaseMeter(), clampNode(), relayBoard()];

function threePhaseMeter(): Shipped {
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
  ];
  return {
    name: 'Three-phase meter, float map',
    description: 'Floats in input registers from 0, two registers each, most significant word first.',
    points: values.map(([key, name, quantity, unit, phase], i) => ({
      ...PLAIN,
      key,
      name,
      quantity,
      unit,
      phase,
      kind: 'input',
      address: String(2 * i),
      type: 'float32',
    })),
  };
}

function clampNode(): Shipped {
  const counts = (value: number): Scaling => ({
    kind: 'pairs',
    raw1: 0,
    value1: 0,
    raw2: 9999,
    value2: value,
  });
  const points = [1, 2, 3, 4].flatMap((channel): PointDefinition[] => {
    const base = 90 + 10 * channel;
    const common = { ...PLAIN, kind: 'input', phase: null } as const;
    return [
      {
        ...common,
        key: `current-${channel}`,
        name: `Current ${channel}`,
        quantity: 'current',
        unit: 'A',
        address: String(base),
        type: 'uint16',
        scaling: counts(60),
      },
      {
        ...common,
        key: `power-${channel}`,
        name: `Active power ${channel}`,
        quantity: 'active-power',
        unit: 'W',
        address: String(base + 1),
        type: 'int16',
        scaling: counts(14_000),
      },
      {
        ...common,
        key: `power-factor-${channel}`,
        name: `Power factor ${channel}`,
        quantity: 'power-factor',
        unit: '',
        address: String(base + 2),
        type: 'int16',
        scaling: { kind: 'factor', factor: 0.001, offset: 0 },
      },
    ];
  });
  return {
    name: 'Four-channel clamp node, raw counts',
    description:
      'Input registers 100, 110, 120, 130: current (9999 counts are 60 A), active power (9999 counts are 14 kW), power factor in thousandths.',
    points,
  };
}

function relayBoard(): Shipped {
  const points = [1, 2, 3, 4].flatMap((relay): PointDefinition[] => {
    const common = {
      ...PLAIN,
      phase: null,
      quantity: 'contact-state',
      unit: '',
      type: 'bool',
      address: String(relay - 1),
      intervalMs: 500,
    } as const;
    return [
      { ...common, key: `relay-${relay}`, name: `Relay ${relay}`, kind: 'coil', access: 'write' },
      { ...common, key: `contact-${relay}`, name: `Contact ${relay}`, kind: 'discrete' },
    ];
  });
  return {
    name: 'Relay board, four coils',
    description: 'Coils from 0 close the relays; discrete inputs from 0 report the contacts.',
    points,
  };
}
