import { PHASES, QUANTITY_NAMES, type Phase, type Quantity } from '@loka/core/quantities';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  Min,
  ValidateNested,
} from 'class-validator';
import { Versioned } from './versioned.js';

/** What an input may be called in a formula. */
export const SHORT_NAME = /^[A-Za-z_][A-Za-z0-9_]{0,39}$/;

export class FormulaInputInput {
  @IsString()
  @Matches(SHORT_NAME, { message: 'A short name has letters, digits and _.' })
  name!: string;

  @IsInt({ message: 'Choose a point.' })
  pointId!: number;
}

/** A virtual meter: a formula over points, on the tree like any other. */
export class VirtualMeterInput extends Versioned {
  @IsString()
  @Length(1, 60, { message: 'Give it a name of 1 to 60 letters, for example “Lighting”.' })
  name!: string;

  @IsString()
  @Length(1, 500, { message: 'Type a formula, for example a + b.' })
  formula!: string;

  @IsArray()
  @ArrayMaxSize(60, { message: 'At most 60 inputs.' })
  @ValidateNested({ each: true })
  @Type(() => FormulaInputInput)
  inputs!: FormulaInputInput[];

  @IsIn(QUANTITY_NAMES)
  quantity!: Quantity;

  @IsOptional()
  @IsIn(PHASES)
  phase!: Phase | null;

  @IsOptional()
  @IsInt()
  nodeId!: number | null;

  @IsInt({ message: 'The interval is a whole number of milliseconds.' })
  @Min(1000, { message: 'At least one second.' })
  @Max(3_600_000, { message: 'At most one hour.' })
  intervalMs: number = 1000;
}

export interface VirtualMeter extends VirtualMeterInput {
  version: number;
  pointId: number;
}
