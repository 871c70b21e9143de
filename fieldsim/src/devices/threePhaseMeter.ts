import { totalVars, totalWatts, type Flow } from '../building/building.js';
import { LINES } from '../building/load.js';
import type { MeterSettings } from './meterSettings.js';
import { floatWords, type FieldDevice } from './device.js';

/** What the meter is wired to. */
export interface MeteredFlow {
  flow(): Flow;
  frequency(): number;
  /** Wh */
  energy(): number;
  /** Wh that went the other way. */
  fedBack(): number;
}

const KEYS = [
  'voltage-l1',
  'voltage-l2',
  'voltage-l3',
  'current-l1',
  'current-l2',
  'current-l3',
  'power-l1',
  'power-l2',
  'power-l3',
  'power-total',
  'power-factor',
  'frequency',
  'energy-import',
  'energy-export',
];

/** A three-phase meter with floats in input registers from 0, two registers each; energy in kWh. Its settings are in holding registers. */
export class ThreePhaseMeter implements FieldDevice {
  readonly unit = 1;
  readonly identification = ['Brindlewick', 'Three-phase meter', '1.2'] as const;

  constructor(
    readonly name: string,
    private readonly wired: MeteredFlow,
    private readonly settings: MeterSettings,
  ) {}

  values(): Record<string, number> {
    const flow = this.wired.flow();
    const watts = totalWatts(flow);
    const apparent = Math.hypot(watts, totalVars(flow));
    const list = [
      ...LINES.map((line) => flow[line].volts),
      ...LINES.map((line) => flow[line].amperes),
      ...LINES.map((line) => flow[line].watts),
      watts,
      apparent > 1 ? watts / apparent : 1,
      this.wired.frequency(),
      Math.round(this.wired.energy()),
      Math.round(this.wired.fedBack()),
    ];
    return Object.fromEntries(KEYS.map((key, i) => [key, list[i] as number]));
  }

  register(address: number): number | undefined {
    const key = KEYS[address >> 1];
    if (key === undefined) return this.settings.register(address);
    const value = this.values()[key] as number;
    return floatWords(key.startsWith('energy') ? value / 1000 : value)[address & 1];
  }

  bit(): undefined {
    return undefined;
  }

  writeCoil(): boolean {
    return false;
  }

  writeRegister(address: number, value: number): boolean {
    return this.settings.write(address, value);
  }
}
