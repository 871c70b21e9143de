import { isBakingDay, type Draw, type Load, type LoadMoment } from '../load.js';
import { ThermostatBody } from './thermostat.js';

/** Espresso machine on L3: a boiler of 2.8 kW held at 124 °C in shop hours; drawing steam makes it cycle. */
export class EspressoMachine implements Load {
  readonly name = 'espresso';
  private readonly boiler = new ThermostatBody(22, {
    capacity: 14,
    loss: 2.6,
    surroundings: 22,
    power: 2800,
    hysteresis: 1.2,
  });

  step({ seconds, clock }: LoadMoment, powered: boolean): Draw[] {
    const open = isBakingDay(clock) && clock.hour >= 6.4 && clock.hour < 18;
    const busy = open && (clock.hour < 10.5 || (clock.hour > 13 && clock.hour < 15));
    this.boiler.step(seconds, open ? 124 : 0, powered, {
      extraWatts: open ? (busy ? -620 : -180) : 0,
    });
    if (!powered) return [];
    const electronics: Draw = { line: 'L3', watts: open ? 42 : 3, powerFactor: 0.6, exponent: 0 };
    return open && this.boiler.on
      ? [electronics, { line: 'L3', watts: 2800, powerFactor: 1, exponent: 2 }]
      : [electronics];
  }
}
