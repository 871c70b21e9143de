import type { Dependent } from './dependents.js';
import { PHASES, QUANTITY_NAMES, type Phase, type Quantity } from '@loka/core/quantities';
import {
  ACCESSES,
  BYTE_ORDERS,
  COMPANION_ROLES,
  COUNTINGS,
  REGISTER_KINDS,
  VALUE_TYPES,
  WORD_ORDERS,
  type Access,
  type Companion,
  type ByteOrder,
  type Counting,
  type PointDefinition,
  type RegisterKind,
  type ValueType,
  type WordOrder,
} from '@loka/core/registers';
import { SETTING_ROLES, type SettingRole } from '@loka/core/settings';
import { type Scaling } from '@loka/core/points';
import type { Availability, MessageDefinition } from '@loka/core/messages';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  Min,
  ValidateBy,
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

/** A raw value with its name, for example 0 = off. */
export interface StateNameInput {
  value: number;
  name: string;
}

const isStateName = (one: unknown): boolean =>
  typeof one === 'object' &&
  one !== null &&
  Object.keys(one).length === 2 &&
  Number.isFinite((one as StateNameInput).value) &&
  typeof (one as StateNameInput).name === 'string' &&
  /^[^;=]{1,40}$/.test((one as StateNameInput).name);

/** What the values of all kinds of device have; the wire form of core's PointBasics. */
export class PointBasicsInput {
  @IsString()
  @Matches(/^[a-z0-9][a-z0-9-]{0,59}$/, { message: 'A key has small letters, digits and hyphens.' })
  key!: string;

  @IsString()
  @Length(1, 60, { message: 'Give the value a name of 1 to 60 letters, for example “Voltage L1”.' })
  name!: string;

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

  @IsInt({ message: 'The interval is a whole number of milliseconds.' })
  @Min(100, { message: 'At least 100 ms.' })
  @Max(3_600_000, { message: 'At most one hour.' })
  intervalMs!: number;

  @IsOptional()
  // Looked at by hand: a map may have ten thousands of them, and a class each would take half a second to validate.
  @IsArray()
  @ArrayMaxSize(100, { message: 'At most 100 names.' })
  @ValidateBy(
    { name: 'isStateName', validator: { validate: isStateName } },
    { each: true, message: 'Each value has a name of 1 to 40 letters, without ; and =.' },
  )
  names?: StateNameInput[];

  @IsOptional()
  @IsNumber({}, NUMBER)
  send?: number;

  @IsOptional()
  @IsIn(SETTING_ROLES)
  setting?: SettingRole;
}

export class CompanionInput {
  @IsIn(COMPANION_ROLES)
  role!: (typeof COMPANION_ROLES)[number];

  @IsString()
  @Length(1, 24)
  address!: string;

  @ValidateIf((c: CompanionInput) => c.role === 'decimals')
  @IsInt(NUMBER)
  @Min(1)
  @Max(5)
  digits?: number;
}

/** One value of a register map; the wire form of core's PointDefinition. */
export class PointDefinitionInput extends PointBasicsInput {
  @IsIn(REGISTER_KINDS)
  kind!: RegisterKind;

  @IsString()
  @Length(0, 24, { message: 'An address has at most 24 characters.' })
  address!: string;

  @IsIn(COUNTINGS)
  counting!: Counting;

  @IsIn(VALUE_TYPES)
  type!: ValueType;

  @IsIn(WORD_ORDERS)
  wordOrder!: WordOrder;

  @IsIn(BYTE_ORDERS)
  byteOrder!: ByteOrder;

  @IsOptional()
  @IsInt({ message: 'A bit is a number from 0 to 15.' })
  bit?: number;

  @IsOptional()
  @IsBoolean()
  inverted?: boolean;

  @IsOptional()
  @IsInt({ message: 'The length is a number of registers.' })
  length?: number;

  @IsOptional()
  @ValidateNested()
  @Type(() => CompanionInput)
  companion?: CompanionInput;

  @IsOptional()
  @IsInt({ message: 'The code for “not available” is a whole number, such as 0x8000.' })
  @Min(0)
  noValue?: number;

  @IsOptional()
  @IsBoolean()
  writeMultiple?: boolean;
}

/** One value of a device that reports by messages; the wire form of core's MessageDefinition. */
export class MessageDefinitionInput extends PointBasicsInput {
  @IsIn(['message'])
  kind!: 'message';

  @IsString()
  @Length(1, 500, { message: 'Type a topic.' })
  topic!: string;

  @IsString()
  @Length(0, 300)
  pointer!: string;

  @IsOptional()
  @IsString()
  @Length(0, 300)
  timePointer?: string;

  @IsOptional()
  @IsString()
  @Length(1, 200)
  on?: string;

  @IsOptional()
  @IsString()
  @Length(1, 200)
  off?: string;

  @IsOptional()
  @IsIn([0, 1])
  qos?: 0 | 1;

  @IsOptional()
  @IsString()
  @Length(1, 500, { message: 'Type a topic.' })
  setTopic?: string;

  @IsOptional()
  @IsString()
  @Length(0, 300)
  setPointer?: string;
}

/** Where devices of a message map say whether they are there. */
export class AvailabilityInput {
  @IsString()
  @Length(1, 500, { message: 'Type a topic.' })
  topic!: string;

  @IsString()
  @Length(1, 100, { message: 'Type the word that means online.' })
  online!: string;

  @IsString()
  @Length(1, 100, { message: 'Type the word that means offline.' })
  offline!: string;
}

/** Values of one map. */
export const MOST_POINTS = 500;

export class RegisterMapInput {
  @IsString()
  @Length(1, 80, { message: 'Give the map a name of 1 to 80 letters.' })
  name!: string;

  @IsString()
  @Length(0, 500)
  description!: string;

  @IsArray()
  @ArrayMaxSize(MOST_POINTS, { message: `A map has at most ${MOST_POINTS} values.` })
  @ValidateNested({ each: true })
  @Type(() => PointDefinitionInput)
  points: PointDefinitionInput[] = [];

  /** Values of a device that reports by messages; a map has these or registers. */
  @IsArray()
  @ArrayMaxSize(MOST_POINTS, { message: `A map has at most ${MOST_POINTS} values.` })
  @ValidateNested({ each: true })
  @Type(() => MessageDefinitionInput)
  messages: MessageDefinitionInput[] = [];

  @IsOptional()
  @ValidateNested()
  @Type(() => AvailabilityInput)
  availability?: AvailabilityInput | null;

  /** The version that was edited; a map that somebody else has changed since is not overwritten. */
  @IsOptional()
  @IsInt()
  version?: number;
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

export interface RegisterMap extends Omit<
  RegisterMapInput,
  'points' | 'messages' | 'availability' | 'version'
> {
  id: number;
  version: number;
  points: PointDefinition[];
  messages: MessageDefinition[];
  availability: Availability | null;
  /** Devices that are made from it. */
  deviceIds: number[];
}

/** What a change of a map would do. */
export interface MapImpact {
  added: string[];
  changed: string[];
  removed: string[];
  /** Those that become a counter, or are one no longer: their past is recalculated. */
  turned: string[];
  devices: { id: number; name: string; circuits: string[] }[];
  /** What depends on the values that are put away. */
  dependents: Dependent[];
}

/** An earlier state of a map. */
export interface MapVersion {
  version: number;
  at: number;
  name: string;
  values: number;
}

/** The same definition in core's terms; the validated input has exactly the members its scaling needs. */
export const toDefinition = (input: PointDefinitionInput): PointDefinition => ({
  ...plainBasics(input),
  ...(input.companion ? { companion: { ...input.companion } as Companion } : {}),
});

export const toMessage = (input: MessageDefinitionInput): MessageDefinition => plainBasics(input);

/** Plain objects instead of instances; what is null or undefined is absent. */
function plainBasics<T extends PointBasicsInput>(input: T) {
  const entries = Object.entries(input).filter(
    ([key, value]) => key === 'phase' || (value !== undefined && value !== null),
  );
  return {
    ...(Object.fromEntries(entries) as unknown as T),
    phase: input.phase ?? null,
    scaling: { ...input.scaling } as Scaling,
    ...(input.names ? { names: input.names.map((n) => ({ ...n })) } : {}),
  } as Omit<T, 'scaling' | 'companion'> & { scaling: Scaling };
}
