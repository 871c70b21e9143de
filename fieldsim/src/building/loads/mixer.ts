import { isBakingDay, threePhase, type Draw, type Load, type LoadMoment } from '../load.js';

/** Seconds for which the motor is blocked by the dough, and how quickly it comes up to speed then. */
const BLOCKED = 0.6;
const RUN_UP = 0.25;

/** What the motor draws some seconds after it was switched on: the surge, and what is left of it. @param running W at speed */
export function mixerDraw(seconds: number, running: number): Draw[] {
  const left = seconds <= BLOCKED ? 1 : Math.exp(-(seconds - BLOCKED) / RUN_UP);
  return threePhase(running + (5_200 - running) * left, 0.79 - 0.37 * left, 1);
}

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
    const dough = 0.7 + 0.3 * Math.min(1, this.runningFor / 400);
    return mixerDraw(this.runningFor, 2_400 * dough);
  }
}
