import type { StateName } from '@loka/core/points';
import type { Phase } from '@loka/core/quantities';
import type { SettingRole } from '@loka/core/settings';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsInt,
  IsNumber,
  IsOptional,
  ValidateNested,
} from 'class-validator';

const MOST = 200;

/** What a setting is to be, base unit. */
export class SettingWanted {
  @IsInt()
  pointId!: number;

  /** Left out: nothing is wanted of it. */
  @IsOptional()
  @IsNumber({}, { message: 'Type a number.' })
  value!: number | null;
}

export class SettingsWanted {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MOST)
  @ValidateNested({ each: true })
  @Type(() => SettingWanted)
  settings!: SettingWanted[];
}

/** What is to be written into a device, base unit. */
export class SettingToWrite {
  @IsInt()
  pointId!: number;

  @IsNumber({}, { message: 'Type a number.' })
  value!: number;

  /** What it was seen to be: it is not overwritten when it has changed since. */
  @IsNumber({}, { message: 'Read the settings first.' })
  seen!: number;
}

export class SettingsToWrite {
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose at least one setting.' })
  @ArrayMaxSize(MOST)
  @ValidateNested({ each: true })
  @Type(() => SettingToWrite)
  settings!: SettingToWrite[];
}

/** What came of writing a setting. */
export interface SettingWritten {
  pointId: number;
  /** Whether the device has it: it was read back. */
  done: boolean;
  /** What it was; null when even that could not be read. */
  before: number | null;
  /** What was read back; null when nothing was. */
  after: number | null;
  /** Why it was not done; '' when it was. */
  message: string;
}

/** A change of a setting that somebody made with Loka. */
export interface SettingChange {
  pointId: number;
  at: number;
  who: string;
  before: number;
  value: number;
  /** What was read back; null when nothing came back. */
  after: number | null;
}

/** A setting inside a device. Values in base units. */
export interface DeviceSetting {
  pointId: number;
  key: string;
  name: string;
  role: SettingRole;
  unit: string;
  phase: Phase | null;
  names: StateName[];
  /** False where the device only tells it. */
  writable: boolean;
  /** The device tells it by itself: it is as it was told last. */
  told: boolean;
  /** Its smallest change; 0 for floats. */
  step: number;
  wanted: number | null;
  /** What stands in the device, and when that was read; null before it was. */
  read: number | null;
  readAt: number | null;
  /** When it was seen to have changed, and from what. */
  changedAt: number | null;
  before: number | null;
  /** Why it could not be read the last time; '' when it was. */
  fault: string;
}

/** The settings of a device, and what was written into it, newest first. */
export interface DeviceSettingsRead {
  settings: DeviceSetting[];
  changes: SettingChange[];
}
