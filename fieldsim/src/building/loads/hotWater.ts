import { isBakingDay, type Draw, type Load, type LoadMoment } from '../load.js';
import { ThermostatBody } from './thermostat.js';

/** Hot-water cylinder of 300 l on L1 with a 3 kW heater; washing up draws water. */
export class HotWaterCylinder implements Load {
  readonly name = 'hot-water';
  private readonly water = new ThermostatBody(52, {
    capacity: 349,
    loss: 2.4,
    surroundings: 21,
    power: 3000,
    hysteresis: 3,
  });

  step({ seconds, clock }: LoadMoment, powered: boolean): Draw[] {
    const washing =
      isBakingDay(clock) &&
      ((clock.hour > 5 && clock.hour < 7) ||
        (clock.hour > 11 && clock.hour < 14) ||
        (clock.hour > 17 && clock.hour < 18.5));
    this.water.step(seconds, 60, powered, { extraWatts: washing ? -1500 : -60 });
    return powered && this.water.on ? [{ line: 'L1', watts: 3000, powerFactor: 1, exponent: 2 }] : [];
  }
}
