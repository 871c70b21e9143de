import type { Draw, Load, LoadMoment } from '../load.js';
import { ThermostatBody } from './thermostat.js';

/** Walk-in cold room on L2: compressor cycles at 3 °C, a defrost heater every six hours, a fan. */
export class ColdRoom implements Load {
  readonly name = 'cold-room';
  private readonly body = new ThermostatBody(4, {
    capacity: 420,
    loss: 38,
    surroundings: 21,
    power: -1900,
    hysteresis: 0.9,
  });

  step({ seconds, clock, sinceOn }: LoadMoment, powered: boolean): Draw[] {
    if (!powered) {
      this.body.step(seconds, 3, false);
      return [];
    }
    const defrosting = clock.hour % 6 < 18 / 60;
    this.body.step(seconds, 3, !defrosting, { extraWatts: defrosting ? 500 : 0 });
    const fan: Draw = { line: 'L2', watts: 48, powerFactor: 0.62, exponent: 1 };
    if (defrosting) return [fan, { line: 'L2', watts: 1200, powerFactor: 1, exponent: 2 }];
    if (!this.body.on) return [fan];
    const starting = sinceOn < 0.6;
    return [
      fan,
      { line: 'L2', watts: starting ? 3800 : 760, powerFactor: starting ? 0.5 : 0.81, exponent: 1 },
    ];
  }
}
