import { PHASES, type Phase } from '@loka/core/quantities';
import type { AnyDefinition } from '@loka/core/definitions';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsIn,
  IsInt,
  IsOptional,
  ValidateNested,
} from 'class-validator';

export class PointAssignment {
  @IsOptional()
  @IsInt()
  nodeId!: number | null;

  /** Conductor it is on here; null leaves what the map says. */
  @IsOptional()
  @IsIn(PHASES)
  phase!: Phase | null;
}

/** A point with the place that it is given. */
export class PlacedPoint extends PointAssignment {
  @IsInt()
  id!: number;
}

/** Points that are given their places at once: all of them, or none. */
export class PointAssignments {
  @IsArray()
  @ArrayMinSize(1, { message: 'Select at least one point.' })
  @ArrayMaxSize(1000, { message: 'At most 1000 points at once.' })
  @ValidateNested({ each: true })
  @Type(() => PlacedPoint)
  points!: PlacedPoint[];
}

/** A point that was removed, and when. */
export interface FormerPoint extends Point {
  removedAt: number;
}

/** A point: a value of a device, with what its map says of it. */
export interface Point {
  id: number;
  /** Null for a virtual meter. */
  deviceId: number | null;
  deviceName: string;
  key: string;
  definition: AnyDefinition;
  nodeId: number | null;
  /** On this conductor; the map's, unless the assignment says otherwise. */
  phase: Phase | null;
  calibrated: boolean;
  /** Its correction was copied from a like device, and not measured. */
  copied: boolean;
}
