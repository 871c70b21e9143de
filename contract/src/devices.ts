import type { Phase } from '@loka/core/quantities';
import { PHASES } from '@loka/core/quantities';
import type { PointDefinition, RegisterKind, Snapshots } from '@loka/core/registers';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
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
import { PointDefinitionInput } from './registers.js';

export class LinkInput {
  @IsString()
  @Length(1, 80, { message: 'Give the link a name of 1 to 80 letters, for example “Meter cabinet”.' })
  name!: string;

  @IsString()
  @Matches(/^[A-Za-z0-9]([A-Za-z0-9.:-]{0,252}[A-Za-z0-9])?$/, {
    message: 'A host is an address such as 192.168.1.40 or a name such as meter.local.',
  })
  host!: string;

  @IsInt({ message: 'A port is a whole number; Modbus TCP uses 502.' })
  @Min(1, { message: 'Ports begin at 1.' })
  @Max(65535, { message: 'The last port is 65535.' })
  port!: number;

  @IsInt({ message: 'The time-out is a whole number of milliseconds.' })
  @Min(50, { message: 'At least 50 ms.' })
  @Max(30_000, { message: 'At most 30 s.' })
  timeoutMs!: number;

  @IsBoolean()
  enabled!: boolean;
}

/** How a link or a device fares. */
export interface Health {
  state: 'answering' | 'failing' | 'idle' | 'off';
  /** Since when it has been in this state, UTC ms. */
  since: number;
  /** Last fault in words, with what to look at; null while all is well. */
  fault: string | null;
  /** Median response time of the last requests, ms. */
  responseMs: number | null;
}

export interface Link extends LinkInput {
  id: number;
  health: Health;
}

export class DeviceInput {
  @IsInt()
  linkId!: number;

  @IsInt({ message: 'Choose a register map.' })
  mapId!: number;

  @IsString()
  @Length(1, 80, { message: 'Give the device a name of 1 to 80 letters, for example “Main meter”.' })
  name!: string;

  @IsInt({ message: 'The unit id is a whole number.' })
  @Min(0, { message: 'Unit ids begin at 0.' })
  @Max(255, { message: 'The last unit id is 255.' })
  unit!: number;
}

export interface Device extends DeviceInput {
  id: number;
  health: Health;
  pointIds: number[];
}

export class PointAssignment {
  @IsOptional()
  @IsInt()
  nodeId!: number | null;

  /** Conductor it is on here; null leaves what the map says. */
  @IsOptional()
  @IsIn(PHASES)
  phase!: Phase | null;
}

/** Where all points of a device belong. */
export class DeviceAssignment {
  @IsOptional()
  @IsInt()
  nodeId!: number | null;
}

/** A point: a value of a device, with what its map says of it. */
export interface Point {
  id: number;
  deviceId: number;
  deviceName: string;
  key: string;
  definition: PointDefinition;
  nodeId: number | null;
  /** On this conductor; the map's, unless the assignment says otherwise. */
  phase: Phase | null;
  calibrated: boolean;
}

/** Reads registers once, before anything is saved. */
export class TrialReadInput {
  @IsInt()
  linkId!: number;

  @IsInt()
  @Min(0)
  @Max(255)
  unit!: number;

  @IsArray()
  @ArrayMaxSize(200)
  @ValidateNested({ each: true })
  @Type(() => PointDefinitionInput)
  points!: PointDefinitionInput[];
}

export interface TrialRead {
  key: string;
  /** Words as they came over the wire; null when they did not. */
  words: number[] | null;
  /** Value in base units. */
  value: number | null;
  /** Why there is no value, or why it cannot be right. */
  message: string | null;
}

/** Reads words around an address several times, for finding out what they mean. */
export class WordsReadInput {
  @IsInt()
  linkId!: number;

  @IsInt()
  @Min(0)
  @Max(255)
  unit!: number;

  /** On the wire. */
  @IsInt()
  @Min(0)
  @Max(65535)
  address!: number;
}

export interface WordsRead {
  /** One for each kind of register that answered. */
  snapshots: Snapshots[];
  /** Why the others did not. */
  failures: { kind: RegisterKind; message: string }[];
}
