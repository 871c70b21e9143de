import type { Building } from '../building/building.js';
import type { FieldDevice } from './device.js';

/** A board of relays: coils from 0 command them, discrete inputs from 0 report the contacts. Loses power: closed. */
export class RelayBoard implements FieldDevice {
  readonly unit = 1;
  /** Contacts that no longer follow their coil. */
  readonly welded = new Set<number>();
  private readonly coils: boolean[];

  constructor(
    readonly name: string,
    private readonly building: Building,
    private readonly loads: string[],
  ) {
    this.coils = loads.map(() => true);
    for (const load of loads) building.contacts.set(load, true);
  }

  values(): Record<string, number> {
    return Object.fromEntries(
      this.loads.map((load, i) => [`contact-${i + 1}`, this.building.contacts.get(load) ? 1 : 0]),
    );
  }

  register(): undefined {
    return undefined;
  }

  bit(kind: 'coil' | 'discrete', address: number): boolean | undefined {
    const load = this.loads[address];
    if (load === undefined) return undefined;
    return kind === 'coil' ? this.coils[address] : this.building.contacts.get(load);
  }

  writeCoil(address: number, value: boolean): boolean {
    const load = this.loads[address];
    if (load === undefined) return false;
    this.coils[address] = value;
    if (!this.welded.has(address)) this.building.contacts.set(load, value);
    return true;
  }
}
