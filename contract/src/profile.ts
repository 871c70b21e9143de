import type { Carpet, Profile } from '@loka/core/profile';

/** What a place does over a period, as it is told: of its runs the last ones, its carpet to a tenth of a watt. */
export interface PlaceProfile extends Omit<Profile, 'carpet'> {
  nodeId: number;
  /** Null in a gap. */
  carpet: Omit<Carpet, 'watts'> & { watts: (number | null)[] };
}
