import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  Min,
  ValidateNested,
} from 'class-validator';
import type { Health } from './acquisition.js';
import { LinkAddress } from './links.js';
import { PlacedPoint } from './points.js';
import type { Versioned } from './versioned.js';

/** Where on its link a device is: by its unit id, or by the topic with which all that it publishes begins. */
export class DevicePlace {
  @IsInt({ message: 'The unit id is a whole number.' })
  @Min(0, { message: 'Unit ids begin at 0.' })
  @Max(255, { message: 'The last unit id is 255.' })
  unit: number = 1;

  /** Base topic of a device that reports by messages. */
  @IsString()
  @Length(0, 200, { message: 'At most 200 characters.' })
  @Matches(/^[^+#]*$/, { message: 'A base topic has no + and no #.' })
  topic: string = '';
}

/** What tells one of several like devices from the others. */
export class BatchMember extends DevicePlace {
  @IsString()
  @Length(1, 80, { message: 'Names have 1 to 80 letters.' })
  name!: string;

  /** Missing: on the same link. */
  @IsOptional()
  @ValidateNested()
  @Type(() => LinkAddress)
  address?: LinkAddress;
}

export class DeviceInput extends DevicePlace implements Versioned {
  /** @see Versioned */
  @IsOptional()
  @IsInt()
  version?: number;

  @IsInt()
  linkId!: number;

  @IsInt({ message: 'Choose a register map.' })
  mapId!: number;

  @IsString()
  @Length(1, 80, { message: 'Give the device a name of 1 to 80 letters, for example “Main meter”.' })
  name!: string;
}

/** A device to be made. */
export class NewDevice extends DeviceInput {
  /** A device that was removed and is the same unit: what was read of it goes on. Missing: a history of its own. */
  @IsOptional()
  @IsInt()
  goesOnFrom?: number | null;
}

/** A device that was removed; its readings stay. */
export interface FormerDevice extends DevicePlace {
  id: number;
  linkId: number;
  mapId: number;
  name: string;
  removedAt: number;
  /** Where it was read. */
  circuits: string[];
}

/** Several devices like one that is there. */
export class DeviceBatch {
  @IsInt()
  likeId!: number;

  @IsArray()
  @ArrayMinSize(1, { message: 'Select at least one.' })
  @ArrayMaxSize(100, { message: 'At most 100 at once.' })
  @ValidateNested({ each: true })
  @Type(() => BatchMember)
  members!: BatchMember[];
}

/** Devices that were made at once, with the links that were made for them, to be taken back. */
export class BatchTakenBack {
  @IsArray()
  @ArrayMinSize(1, { message: 'Select at least one.' })
  @ArrayMaxSize(100, { message: 'At most 100 at once.' })
  @IsInt({ each: true })
  ids!: number[];

  @IsArray()
  @ArrayMaxSize(100, { message: 'At most 100 at once.' })
  @IsInt({ each: true })
  linkIds!: number[];
}

/** Which devices take over the settings of one. */
export class SettingsCopy {
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose at least one device.' })
  @IsInt({ each: true })
  deviceIds!: number[];
}

/** Which map a device has. */
export class DeviceMap {
  @IsInt()
  id!: number;

  @IsInt()
  mapId!: number;
}

/** What devices had before they took over the settings of one: given back as it is, that is undone. */
export class DeviceSettings {
  @IsArray()
  @ArrayMinSize(1, { message: 'Select at least one device.' })
  @ValidateNested({ each: true })
  @Type(() => DeviceMap)
  devices!: DeviceMap[];

  /** Where their values belonged. */
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => PlacedPoint)
  points!: PlacedPoint[];
}

/** A value that reads exactly the same for longer than it can. */
export interface StuckValue {
  pointId: number;
  name: string;
  /** Base unit. */
  value: number;
  unit: string;
  since: number;
}

export interface Device extends DeviceInput {
  stuck: StuckValue[];
  version: number;
  id: number;
  health: Health;
  pointIds: number[];
}

/** Where all points of a device belong. */
export class DeviceAssignment {
  @IsOptional()
  @IsInt()
  nodeId!: number | null;
}
