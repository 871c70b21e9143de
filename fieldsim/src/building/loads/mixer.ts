import { isBakingDay, threePhase, type Draw, type Load, type LoadMoment } from '../load.js';

/** Spiral mixer, three-phase motor of 2.4 kW: kneads batches in the night; six times the current in its first second. */
export class SpiralMixer implements Load {
  readonly name = 'mixer';
  private runningFor = 0;

  step({ seconds, clock }: LoadMoment, powered: boolean): Draw[] {
    const minute = clock.hour * 60;
    const kneads = isBakingDay(clock) && minute >= 150 && minute < 360 && (minute - 150) % 42 < 14;
    if (!kneads || !powered) {
      this.runningFor = 0;
      return [];
    }
    this.runningFor += seconds;
    if (this.runningFor <= 1) return threePhase(5_200, 0.42, 1);
    const dough = 0.7 + 0.3 * Math.min(1, this.runningFor / 400);
    return threePhase(2_400 * dough, 0.79, 1);
  }
}
