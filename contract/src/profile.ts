import type { Carpet, Phases, Profile, VoltageFigures } from '@loka/core/profile';
import type { Phase } from '@loka/core/quantities';

/** What a place does over a period, as it is told: of its runs the last ones, its carpet to a tenth of a watt. */
export interface PlaceProfile extends Omit<Profile, 'carpet'> {
  nodeId: number;
  /** Where nothing measures it: the places below it whose sum is its power. Null where it is measured. */
  summed: number[] | null;
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
