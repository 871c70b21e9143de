import type { Check, FaultKind, Fault, FoundStep, LineReading, Phasor } from '@loka/core/verify';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsPositive,
  IsString,
  Length,
  Max,
  Min,
  ValidateNested,
} from 'class-validator';

/** A load that a step test asks for. */
export class StepLoad {
  @IsString()
  @Length(1, 60, { message: 'Name the load, for example “Top heat”.' })
  name!: string;

  /** W by its plate; left out where nobody knows. */
  @IsOptional()
  @IsNumber({}, { message: 'The power is a number in watts.' })
  @IsPositive({ message: 'The power is above 0 W.' })
  @Max(1e6, { message: 'At most 1 MW.' })
  watts!: number | null;

  /** 1 for heaters and filament lamps. */
  @IsOptional()
  @IsNumber({}, { message: 'The power factor is a number.' })
  @Min(0.1, { message: 'The power factor lies between 0.1 and 1.' })
  @Max(1, { message: 'The power factor lies between 0.1 and 1.' })
  powerFactor!: number | null;

  /** Whether the circuit's relay switches it; else a person is asked. */
  @IsBoolean()
  byRelay!: boolean;
}

export class StepTestInput {
  @IsArray()
  @ArrayMinSize(1, { message: 'Name at least one load.' })
  @ArrayMaxSize(12, { message: 'At most twelve loads at a time.' })
  @ValidateNested({ each: true })
  @Type(() => StepLoad)
  loads!: StepLoad[];
}

/** What a step test has asked for, and what was found; null while it is looked for, 'skipped' when it was left out. */
export interface StepAsked {
  load: StepLoad;
  on: boolean;
  /** UTC ms; null before it is its turn. */
  askedAt: number | null;
  found: FoundStep | 'skipped' | null;
}

export interface StepTest {
  id: number;
  nodeId: number;
  startedAt: number;
  endedAt: number | null;
  who: string;
  steps: StepAsked[];
}

/** Which step somebody acts on: of two who press the same button the second has nothing left to do. */
export class StepMeant {
  @IsOptional()
  @IsInt()
  step?: number;
}

/** How a circuit's wiring was found, or left. */
export const RECORD_KINDS = ['as-found', 'as-left'] as const;
export type RecordKind = (typeof RECORD_KINDS)[number];

export class VerificationInput {
  @IsIn(RECORD_KINDS)
  kind!: RecordKind;
}

/** A verification that a person has recorded: it stays with the circuit. */
export interface VerificationRecord {
  id: number;
  nodeId: number;
  at: number;
  who: string;
  kind: RecordKind;
  /** Whether it proves the wiring right. */
  proven: boolean;
  checks: Check[];
  faults: Fault[];
  /** What was done with what had been read wrongly; '' where nothing was. */
  past: string;
}

/** What is to be done with what was read while a fault stood. */
export const PAST_WAYS = ['correct', 'strike', 'leave'] as const;
export type PastWay = (typeof PAST_WAYS)[number];

export class MendedInput {
  /** From when on it was read wrongly, UTC ms. */
  @IsInt({ message: 'Choose a start.' })
  @Min(0)
  since!: number;

  /** Until when, UTC ms: when it was mended. */
  @IsInt({ message: 'Choose an end.' })
  @Min(0)
  until!: number;

  @IsIn(PAST_WAYS)
  way!: PastWay;

  /** The record that named the fault. */
  @IsInt()
  recordId!: number;
}

/** What is known of when a fault began, and what can be done with what was read since. */
export interface PastProposed {
  recordId: number;
  fault: Fault;
  since: number;
  /** Why that instant. */
  because: string;
  until: number;
  ways: PastWay[];
}

/** The state of a circuit's wiring, as it is seen now. */
export interface Verification {
  nodeId: number;
  /** The device that measures it. */
  deviceId: number;
  /** Seconds of readings that were looked at. */
  seconds: number;
  checks: Check[];
  faults: Fault[];
  /** V against neutral. */
  nominalVoltage: number;
  /** As its meter reads them now. */
  phasors: Phasor[];
  readings: LineReading[];
  /** The ways to fit the clamps, tried; null where nothing could be. */
  tried: {
    readings: LineReading[];
    asRead: Phasor[];
    onceRight: Phasor[];
    /** Each way: the conductors, the clamps turned, and by how many degrees the readings are off. */
    ways: { on: string[]; turned: boolean[]; off: number }[];
    apart: number | null;
  } | null;
  /** The meter above that is compared with; null where none is. */
  above: string | null;
  aboveWatts: number | null;
  watts: number | null;
  /** Loads that came or went, newest first. */
  events: { t: number; on: boolean; load: string | null; own: number | null; above: number | null }[];
  stepTest: StepTest | null;
  records: VerificationRecord[];
  past: PastProposed | null;
}

/** What the background has found at a place. */
export interface WiringState {
  /** Null where nothing was looked at. */
  fault: string | null;
  kinds: FaultKind[];
  since: number | null;
}
