import type { Carpet, Profile } from '@loka/core/profile';

/** What a place does over a period, as it is told: of its runs the last ones, its carpet to a tenth of a watt. */
export interface PlaceProfile extends Omit<Profile, 'carpet'> {
  nodeId: number;
  /** Where nothing measures it: the places below it whose sum is its power. Null where it is measured. */
  summed: number[] | null;
  /** Null in a gap. */
  carpet: Omit<Carpet, 'watts'> & { watts: (number | null)[] };
}
