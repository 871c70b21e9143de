import type { Draw, Load, LoadMoment } from '../load.js';

/** Office and network cabinet on L3: a standby that never ends, a little more in office hours. */
export class Office implements Load {
  readonly name = 'office';

  step({ clock }: LoadMoment, powered: boolean): Draw[] {
    const manned = clock.weekday < 6 && clock.hour >= 8 && clock.hour < 17;
    return powered ? [{ line: 'L3', watts: manned ? 210 : 96, powerFactor: 0.9, exponent: 0 }] : [];
  }
}
