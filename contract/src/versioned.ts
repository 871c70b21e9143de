import { IsInt, IsOptional } from 'class-validator';

/** What may be changed in two windows at once. */
export class Versioned {
  /** The version that was edited; what somebody else has changed since is not overwritten. Without one nobody is asked. */
  @IsOptional()
  @IsInt()
  version?: number;
}
