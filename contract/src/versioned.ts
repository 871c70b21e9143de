import { IsInt, IsOptional } from 'class-validator';

/** What may be changed in two windows at once. */
export class Versioned {
  /** The version that was edited; what somebody else has changed since is not overwritten. Without one nobody is asked. */
  @IsOptional()
  @IsInt()
  version?: number;
}

/** Something that people name and draw, as it is kept. */
export interface Kept<Content> {
  id: number;
  name: string;
  content: Content;
  /** Counts its changes, so that the second of two editors is told. */
  version: number;
  changedAt: number;
  /** Who changed it last. */
  who: string;
}
