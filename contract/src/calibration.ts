import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsInt,
  IsNumber,
  IsString,
  Length,
  Min,
  ValidateNested,
} from 'class-validator';
import type { Capture } from '@loka/core/calibration';

/** One point of a calibration: a span of raw readings that was captured, and what the reference said. */
export class CalibrationPointInput {
  @IsString()
  @Length(0, 60)
  label!: string;

  /** UTC ms */
  @IsInt()
  @Min(0)
  from!: number;

  @IsInt()
  @Min(0)
  to!: number;

  @IsNumber({}, { message: 'The reference is a number in the point’s unit.' })
  reference!: number;
}

export class CalibrationInput {
  @IsInt()
  pointId!: number;

  @IsArray()
  @ArrayMinSize(1, { message: 'Take at least one point.' })
  @ArrayMaxSize(20)
  @ValidateNested({ each: true })
  @Type(() => CalibrationPointInput)
  points!: CalibrationPointInput[];

  /** From when on it holds, UTC ms. */
  @IsInt({ message: 'Say from when it holds.' })
  @Min(0)
  validFrom!: number;

  /** Whether the power of the same clamp is scaled by the same gain. */
  @IsBoolean()
  withPower!: boolean;
}

export interface CalibrationPoint extends CalibrationPointInput {
  capture: Capture;
  /** Percent of the reference; null at zero. */
  asFound: number | null;
  asLeft: number | null;
}

export interface Calibration {
  id: number;
  pointId: number;
  madeAt: number;
  validFrom: number;
  gain: number;
  offset: number;
  points: CalibrationPoint[];
  /** Point whose power took the same gain, or null. */
  powerPointId: number | null;
  /** Undone or replaced: no longer in force. */
  superseded: boolean;
  undoable: boolean;
}
