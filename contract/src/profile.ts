import type {
  Carpet,
  Coincidence,
  DurationCurve,
  LoadSeen,
  LoadSteps,
  Phases,
  Profile,
  VoltageFigures,
  WeatherDay,
  WeatherFit,
} from '@loka/core/profile';
import type { EnergySource } from './energy.js';
import type { Phase } from '@loka/core/quantities';

/** What a place does over a period, as it is told: of its runs the last ones, its carpet to a tenth of a watt. */
export interface PlaceProfile extends Omit<Profile, 'carpet'> {
  nodeId: number;
  /** Whether it is told by its power, or by what its counter has counted in quarter-hours: of levels and runs that tells nothing. */
  source: EnergySource;
  /** Where nothing measures it: the places below it whose sum is its power. Null where it is measured. */
  summed: number[] | null;
  /** Places below it that are not part of the sum, because they were read for too little of the period. */
  without: number[];
  /** Null in a gap. */
  carpet: Omit<Carpet, 'watts'> & { watts: (number | null)[] };
}

/** How the voltages of a place keep to their band. */
export interface PlaceVoltage {
  nodeId: number;
  from: number;
  to: number;
  /** V, line to neutral. */
  nominal: number;
  phases: (Omit<VoltageFigures, 'means'> & {
    phase: Phase | null;
    /** At which interval it is read, ms: what is shorter is not seen. */
    readEvery: number;
    /** Ten-minute means, V; null where too little is known. */
    means: (number | null)[];
  })[];
}

/** For how much of the time a place took how much, and how far what hangs on it falls together. */
export interface PlaceDuration {
  nodeId: number;
  from: number;
  to: number;
  /** Length of the spans of the curve by their means, ms. */
  step: number;
  /** By the means of the spans; null where nothing is known. */
  byMeans: DurationCurve | null;
  /** By every reading; null where the period is too long for that. */
  byReadings: DurationCurve | null;
  /** How many those were. */
  readings: number;
  /** The highest power: of a single reading. */
  highest: { watts: number; at: number } | null;
  /** At how far an interval its slowest meter is read, ms. */
  readEvery: number;
  /** Of what is metered behind it, over a quarter-hour. */
  coincidence: Coincidence | null;
}

/** How what a place takes a day hangs on the temperature outside. */
export interface PlaceWeather {
  nodeId: number;
  from: number;
  to: number;
  /** The sensor. */
  pointId: number;
  /** Days that are over, and those of which energy and temperature are known. */
  wholeDays: number;
  days: WeatherDay[];
  /** Null where too little is known, or nothing stands out against chance. */
  fit: WeatherFit | null;
}

/** What probably was on behind a place that has no meter of its own, by the steps in its power. */
export interface PlaceSteps extends Omit<LoadSteps, 'loads'> {
  nodeId: number;
  from: number;
  to: number;
  /** Length of the spans in which steps were looked for, ms: what lasts for less than three of them is not seen. */
  step: number;
  /** How each load is known: by a step test at the place, or by its plate. */
  loads: (LoadSeen & { by: 'test' | 'plate' })[];
  /** Metered places behind it, whose power was taken off first. */
  less: number[];
}

/** How the load of a place's lines differs, and what moving a circuit would do. */
export interface PlacePhases {
  nodeId: number;
  from: number;
  to: number;
  /** Null where the three lines were never known together. */
  phases: Phases | null;
  /** The single-phase circuits behind it that were tried: a move names one by its place in this list. */
  circuits: number[];
}
