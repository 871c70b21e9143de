import { isBakingDay, threePhase, type Draw, type Load, type LoadMoment } from '../load.js';
import { ThermostatBody } from './thermostat.js';

/** Deck oven, three-phase, 14 kW: heats up at 02:30 and holds 240 °C by its thermostat until 09:30. */
export class DeckOven implements Load {
  readonly name = 'deck-oven';
  private readonly body = new ThermostatBody(30, {
    capacity: 52,
    loss: 21,
    surroundings: 24,
    power: 14_000,
    hysteresis: 5,
  });

  step({ seconds, clock }: LoadMoment, powered: boolean): Draw[] {
    const baking = isBakingDay(clock) && clock.hour >= 2.5 && clock.hour < 9.5;
    // Dough and open doors take heat during the night's three batches.
    const batch = baking && clock.hour > 3.6 && (clock.hour * 60) % 75 < 40;
    this.body.step(seconds, baking ? 240 : 0, powered, { extraWatts: batch ? -2800 : 0 });
    const heating = baking && this.body.on && powered;
    return heating ? threePhase(14_000, 1, 2) : powered ? threePhase(36, 0.7, 0) : [];
  }
}
