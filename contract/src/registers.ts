import { PHASES, QUANTITY_NAMES, type Phase, type Quantity } from '@loka/core/quantities';
import {
  ACCESSES,
  BYTE_ORDERS,
  COUNTINGS,
  REGISTER_KINDS,
  VALUE_TYPES,
  WORD_ORDERS,
  type Access,
  type ByteOrder,
  type Counting,
  type PointDefinition,
  type RegisterKind,
  type Scaling,
  type ValueType,
  type WordOrder,
} from '@loka/core/registers';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  Min,
  ValidateIf,
  ValidateNested,
} from 'class-validator';

const NUMBER = { message: 'Type a number.' };

export class ScalingInput {
  @IsIn(['factor', 'pairs'])
  kind!: 'factor' | 'pairs';

  @ValidateIf((s: ScalingInput) => s.kind === 'factor')
  @IsNumber({}, NUMBER)
  factor?: number;

  @ValidateIf((s: ScalingInput) => s.kind === 'factor')
  @IsNumber({}, NUMBER)
  offset?: number;

  @ValidateIf((s: ScalingInput) => s.kind === 'pairs')
  @IsNumber({}, NUMBER)
  raw1?: number;

  @ValidateIf((s: ScalingInput) => s.kind === 'pairs')
  @IsNumber({}, NUMBER)
  value1?: number;

  @ValidateIf((s: ScalingInput) => s.kind === 'pairs')
  @IsNumber({}, NUMBER)
  raw2?: number;

  @ValidateIf((s: ScalingInput) => s.kind === 'pairs')
  @IsNumber({}, NUMBER)
  value2?: number;
}

/** One value of a register map; the wire form of core's PointDefinition. */
export class PointDefinitionInput {
  @IsString()
  @Matches(/^[a-z0-9][a-z0-9-]{0,59}$/, { message: 'A key has small letters, digits and hyphens.' })
  key!: string;

  @IsString()
  @Length(1, 60, { message: 'Give the value a name of 1 to 60 letters, for example “Voltage L1”.' })
  name!: string;

  @IsIn(REGISTER_KINDS)
  kind!: RegisterKind;

  @IsString()
  @Length(0, 12, { message: 'An address has at most 12 characters.' })
  address!: string;

  @IsIn(COUNTINGS)
  counting!: Counting;

  @IsIn(VALUE_TYPES)
  type!: ValueType;

  @IsIn(WORD_ORDERS)
  wordOrder!: WordOrder;

  @IsIn(BYTE_ORDERS)
  byteOrder!: ByteOrder;

  @ValidateNested()
  @Type(() => ScalingInput)
  scaling!: ScalingInput;

  @IsString()
  unit!: string;

  @IsIn(QUANTITY_NAMES)
  quantity!: Quantity;

  @IsOptional()
  @IsIn(PHASES)
  phase!: Phase | null;

  @IsIn(ACCESSES)
  access!: Access;

  @IsInt({ message: 'The poll interval is a whole number of milliseconds.' })
  @Min(100, { message: 'At least 100 ms.' })
  @Max(3_600_000, { message: 'At most one hour.' })
  intervalMs!: number;
}

export class RegisterMapInput {
  @IsString()
  @Length(1, 80, { message: 'Give the map a name of 1 to 80 letters.' })
  name!: string;

  @IsString()
  @Length(0, 500)
  description!: string;

  @IsArray()
  @ArrayMaxSize(500, { message: 'A map has at most 500 values.' })
  @ValidateNested({ each: true })
  @Type(() => PointDefinitionInput)
  points!: PointDefinitionInput[];
}

/** A register map as a file: CSV (a table) or JSON. */
export class RegisterMapFile {
  @IsIn(['csv', 'json'])
  format!: 'csv' | 'json';

  /** Name of the map; a JSON file has its own and needs none. */
  @IsString()
  @Length(0, 80)
  name!: string;

  @IsString()
  @Length(1, 500_000, { message: 'The file is empty, or larger than 500 kB.' })
  text!: string;
}

export interface RegisterMap extends Omit<RegisterMapInput, 'points'> {
  id: number;
  points: PointDefinition[];
  /** Devices that are made from it. */
  deviceIds: number[];
}

/** The same definition in core's terms; the validated input has exactly the members its scaling needs. */
export const toDefinition = (input: PointDefinitionInput): PointDefinition => ({
  ...input,
  scaling: { ...input.scaling } as Scaling,
});
