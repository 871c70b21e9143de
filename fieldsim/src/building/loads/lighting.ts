import { isBakingDay, type Draw, type Line, type Load, type LoadMoment } from '../load.js';

/** A group of LED luminaires that burns between two hours of the day. */
export class Lighting implements Load {
  constructor(
    readonly name: string,
    private readonly line: Line,
    private readonly watts: number,
    private readonly from: number,
    private readonly to: number,
  ) {}

  step({ clock }: LoadMoment, powered: boolean): Draw[] {
    const lit = isBakingDay(clock) && clock.hour >= this.from && clock.hour < this.to;
    if (!powered) return [];
    return [{ line: this.line, watts: lit ? this.watts : 6, powerFactor: lit ? 0.93 : 0.4, exponent: 0 }];
  }
}
