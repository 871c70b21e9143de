import { isBakingDay, LINES, threePhase, type Draw, type Load, type LoadMoment } from '../load.js';
import { ThermostatBody } from './thermostat.js';

/** Dough prover on L3: a heater of 1.8 kW holds 34 °C while there is baking. */
export class DoughProver implements Load {
  readonly name = 'prover';
  private readonly body = new ThermostatBody(26, {
    capacity: 60,
    loss: 34,
    surroundings: 23,
    power: 1800,
    hysteresis: 0.8,
  });

  step({ seconds, clock }: LoadMoment, powered: boolean): Draw[] {
    const wanted = isBakingDay(clock) && clock.hour >= 1.5 && clock.hour < 9;
    this.body.step(seconds, wanted ? 34 : 0, powered);
    if (!powered) return [];
    const fan: Draw = { line: 'L3', watts: wanted ? 55 : 4, powerFactor: 0.7, exponent: 1 };
    return wanted && this.body.on ? [fan, { line: 'L3', watts: 1800, powerFactor: 1, exponent: 2 }] : [fan];
  }
}

/** Refrigerated display counter on L1: a compressor that cycles, the more the warmer the shop is, and lamps in shop hours. */
export class DisplayCounter implements Load {
  readonly name = 'display-counter';
  private readonly body = new ThermostatBody(7, {
    capacity: 90,
    loss: 16,
    surroundings: 23,
    power: -700,
    hysteresis: 1.2,
  });

  step({ seconds, clock, sinceOn, outdoors }: LoadMoment, powered: boolean): Draw[] {
    // Its door stands open to the street: the shop follows half of what goes on outside.
    this.body.step(seconds, 5, powered, { surroundings: 22 + 0.5 * (outdoors - 14) });
    if (!powered) return [];
    const open = isBakingDay(clock) && clock.hour >= 6.5 && clock.hour < 18.5;
    const lamps: Draw = { line: 'L1', watts: open ? 120 : 9, powerFactor: 0.92, exponent: 0 };
    if (!this.body.on) return [lamps];
    const starting = sinceOn < 0.5;
    return [
      lamps,
      { line: 'L1', watts: starting ? 1900 : 410, powerFactor: starting ? 0.5 : 0.72, exponent: 1 },
    ];
  }
}

/** Dishwasher on L2: programmes of heating, washing and rinsing after the busy hours. */
export class Dishwasher implements Load {
  readonly name = 'dishwasher';

  step({ clock }: LoadMoment, powered: boolean): Draw[] {
    if (!powered) return [];
    const runs =
      isBakingDay(clock) &&
      [9.5, 11.25, 15, 17.5].some((from) => clock.hour >= from && clock.hour < from + 0.75);
    if (!runs) return [{ line: 'L2', watts: 3, powerFactor: 0.4, exponent: 0 }];
    const minute = (clock.hour * 60) % 45;
    const heats = minute < 14 || (minute > 28 && minute < 36);
    const pump: Draw = { line: 'L2', watts: 180, powerFactor: 0.75, exponent: 1 };
    return heats ? [pump, { line: 'L2', watts: 3000, powerFactor: 1, exponent: 2 }] : [pump];
  }
}

/** Extraction fan on L1 behind a frequency converter: its speed follows the oven, and its current is rich in harmonics. */
export class ExtractionFan implements Load {
  readonly name = 'extraction-fan';

  step({ clock }: LoadMoment, powered: boolean): Draw[] {
    if (!powered) return [];
    const bakes = isBakingDay(clock) && clock.hour >= 2.5 && clock.hour < 11;
    const speed = bakes ? 0.75 + 0.25 * Math.sin(clock.hour * 2.1) ** 2 : 0.25;
    return [{ line: 'L1', watts: 18 + 740 * speed ** 3, powerFactor: 0.63, exponent: 0 }];
  }
}

/** Charger of the delivery van: 11 kW on three phases in the early night, tapering at the end. */
export class VanCharger implements Load {
  readonly name = 'van-charger';

  step({ clock }: LoadMoment, powered: boolean): Draw[] {
    if (!powered) return [];
    const since = clock.hour - 20.5;
    if (since < 0 || since >= 3.2) return threePhase(9, 0.5, 0);
    return threePhase(since < 2.4 ? 10_800 : 10_800 * (1 - (since - 2.4)), 0.99, 0);
  }
}

/** Network cabinet on L3, behind the office's way: switches, a small server, never off. */
export class NetworkCabinet implements Load {
  readonly name = 'network-cabinet';

  step({ t }: LoadMoment, powered: boolean): Draw[] {
    return powered
      ? [{ line: 'L3', watts: 84 + 6 * Math.sin(t / 97_000), powerFactor: 0.93, exponent: 0 }]
      : [];
  }
}

/** The same power on all lines, negative when it is fed in. */
export const fedIn = (watts: number): Draw[] =>
  LINES.map((line) => ({ line, watts: -watts / 3, powerFactor: 1, exponent: 0 }));
