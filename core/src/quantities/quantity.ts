/** How a quantity behaves in time: a state of the moment, a counter that only rises, or an on/off state. */
export type QuantityKind = 'instant' | 'counter' | 'state';

export interface QuantityInfo {
  label: string;
  /** SI base unit used inside Loka; '' for ratios and states. */
  unit: string;
  kind: QuantityKind;
  /** Units that a device may deliver, with the factor to the base unit. */
  units: Readonly<Record<string, number>>;
  /** Values outside are physically implausible in a low-voltage installation (trade), base unit. */
  possible: readonly [number, number];
}

/** What a point can measure. Units: V, A, W, var, VA, Wh, Hz, °C, s, or none. */
export const QUANTITIES = {
  voltage: {
    label: 'Voltage',
    unit: 'V',
    kind: 'instant',
    units: { V: 1, mV: 0.001, kV: 1000 },
    possible: [-1000, 1500],
  },
  current: {
    label: 'Current',
    unit: 'A',
    kind: 'instant',
    units: { A: 1, mA: 0.001 },
    possible: [-10000, 10000],
  },
  'active-power': {
    label: 'Active power',
    unit: 'W',
    kind: 'instant',
    units: { W: 1, kW: 1000 },
    possible: [-5e6, 5e6],
  },
  'reactive-power': {
    label: 'Reactive power',
    unit: 'var',
    kind: 'instant',
    units: { var: 1, kvar: 1000 },
    possible: [-5e6, 5e6],
  },
  'apparent-power': {
    label: 'Apparent power',
    unit: 'VA',
    kind: 'instant',
    units: { VA: 1, kVA: 1000 },
    possible: [0, 5e6],
  },
  /** Highest mean power over an interval that a meter has kept since it was last cleared. */
  'maximum-demand': {
    label: 'Maximum demand',
    unit: 'W',
    kind: 'instant',
    units: { W: 1, kW: 1000 },
    possible: [-5e6, 5e6],
  },
  'power-factor': {
    label: 'Power factor',
    unit: '',
    kind: 'instant',
    units: { '': 1, '%': 0.01 },
    possible: [-1.001, 1.001],
  },
  frequency: { label: 'Frequency', unit: 'Hz', kind: 'instant', units: { Hz: 1 }, possible: [0, 500] },
  'energy-import': {
    label: 'Energy imported',
    unit: 'Wh',
    kind: 'counter',
    units: { Wh: 1, kWh: 1000, MWh: 1e6 },
    possible: [0, 1e13],
  },
  'energy-export': {
    label: 'Energy exported',
    unit: 'Wh',
    kind: 'counter',
    units: { Wh: 1, kWh: 1000, MWh: 1e6 },
    possible: [0, 1e13],
  },
  temperature: {
    label: 'Temperature',
    unit: '°C',
    kind: 'instant',
    units: { '°C': 1 },
    possible: [-60, 400],
  },
  'state-of-charge': {
    label: 'State of charge',
    unit: '%',
    kind: 'instant',
    units: { '%': 1 },
    possible: [0, 100],
  },
  duration: {
    label: 'Duration',
    unit: 's',
    kind: 'instant',
    units: { s: 1, ms: 0.001, min: 60, h: 3600 },
    possible: [0, 1e9],
  },
  'contact-state': { label: 'Contact state', unit: '', kind: 'state', units: { '': 1 }, possible: [0, 1] },
  other: { label: 'Other', unit: '', kind: 'instant', units: { '': 1 }, possible: [-Infinity, Infinity] },
} as const satisfies Record<string, QuantityInfo>;

export type Quantity = keyof typeof QUANTITIES;

export const QUANTITY_NAMES = Object.keys(QUANTITIES) as Quantity[];

/** Conductor, or conductors, that a point measures on. */
export const PHASES = ['L1', 'L2', 'L3', 'N', 'total', 'DC'] as const;
export type Phase = (typeof PHASES)[number];

export const quantityInfo = (quantity: Quantity): QuantityInfo => QUANTITIES[quantity];

/** Factor from the device's unit to the base unit; undefined when the unit does not belong to the quantity. */
export function unitFactor(quantity: Quantity, unit: string): number | undefined {
  return quantityInfo(quantity).units[unit];
}

/** Whether a value in base units can be true at all; null when it can, else the reason in words. */
export function implausible(quantity: Quantity, value: number): string | null {
  const [low, high] = quantityInfo(quantity).possible;
  if (!Number.isFinite(value)) return 'not a number';
  if (value < low) return `below ${low} ${quantityInfo(quantity).unit}`.trim();
  if (value > high) return `above ${high} ${quantityInfo(quantity).unit}`.trim();
  return null;
}
