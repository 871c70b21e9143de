import type { LocalTime } from './localTime.js';

export const LINES = ['L1', 'L2', 'L3'] as const;
export type Line = (typeof LINES)[number];

/** What a load draws on one line at nominal voltage. */
export interface Draw {
  line: Line;
  /** Active power in W at nominal voltage. */
  watts: number;
  /** Displacement power factor, 0–1, inductive. */
  powerFactor: number;
  /** Exponent of the dependence on voltage: 2 for a resistance, about 1 for a motor, 0 for a regulated supply. */
  exponent: number;
}

export interface LoadMoment {
  t: number;
  /** Seconds since the step before. */
  seconds: number;
  clock: LocalTime;
  /** Temperature outside, °C. */
  outdoors: number;
  /** Seconds since the load's supply was switched on; Infinity when it has always been. */
  sinceOn: number;
}

/** A load of the building: it has a state of its own (temperatures, cycles) and says what it draws now. */
export interface Load {
  readonly name: string;
  /** `powered` is false while its relay is open: it draws nothing, and its state goes on (it cools down). */
  step(moment: LoadMoment, powered: boolean): Draw[];
}

export const NOMINAL_VOLTS = 230;

/** The same draw on all three lines, `watts` in total. */
export const threePhase = (watts: number, powerFactor: number, exponent: number): Draw[] =>
  LINES.map((line) => ({ line, watts: watts / 3, powerFactor, exponent }));

/** The bakery depends on Mondays. */
export const isBakingDay = (clock: LocalTime): boolean => clock.weekday !== 1;
