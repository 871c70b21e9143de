import type { RegisterKind, Snapshots } from '@loka/core/registers';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsInt,
  IsOptional,
  Max,
  Min,
  ValidateNested,
} from 'class-validator';
import { PointDefinitionInput } from './registers.js';

/** Kinds of fault, for counting. */
export const FAULT_KINDS = [
  'time-out',
  'refused',
  'unreachable',
  'connection lost',
  'exception',
  'not understood',
  'silent',
  'late',
  'not allowed',
] as const;
export type FaultKind = (typeof FAULT_KINDS)[number];

export interface FaultCount {
  kind: FaultKind;
  count: number;
  /** The last one in words, and when, UTC ms. */
  last: string;
  at: number;
}

/** How a link or a device fares. */
export interface Health {
  /** Partly: it answers, and for some of its requests or topics it fails. */
  state: 'answering' | 'partly' | 'failing' | 'idle' | 'off';
  /** Since when it has been in this state, UTC ms. */
  since: number;
  /** Last fault in words, with what to look at; null while all is well. */
  fault: string | null;
  /** Median and 95th percentile of the response times of the last requests, ms; null for devices that report by themselves. */
  responseMs: number | null;
  response95Ms: number | null;
  /** Requests, or messages, a second over the last ten seconds. */
  perSecond: number;
  /** Faults since the link was started, by kind. */
  faults: FaultCount[];
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
  /** The text, for a string. */
  text?: string;
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

  /** Last address of a range in which the value may begin; missing for the one address. */
  @IsOptional()
  @IsInt({ message: 'The last address is a whole number.' })
  @Min(0)
  @Max(65535)
  last?: number;

  /** Read more often and further apart, so that a counter has counted in between. */
  @IsOptional()
  @IsBoolean()
  slowly?: boolean;
}

export interface WordsRead {
  /** One for each kind of register that answered. */
  snapshots: Snapshots[];
  /** Why the others did not. */
  failures: { kind: RegisterKind; message: string }[];
}

/** When a known load was switched on or off. */
export class MarkInput {
  @IsInt()
  t!: number;

  @IsBoolean()
  on!: boolean;
}

/** Which values of some devices follow a load that is switched. */
export class MovesInput {
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose a device.' })
  @ArrayMaxSize(100)
  @IsInt({ each: true })
  deviceIds!: number[];

  @IsArray()
  @ArrayMinSize(2, { message: 'Switch the load at least once: press off, then on.' })
  @ArrayMaxSize(100)
  @ValidateNested({ each: true })
  @Type(() => MarkInput)
  marks!: MarkInput[];

  /** Until when the last mark holds, UTC ms. */
  @IsInt()
  until!: number;
}

/** How a value followed; see core's Move. */
export interface MovedPoint {
  pointId: number;
  step: number;
  share: number;
  spread: number;
  noise: number;
  switchings: number;
  clarity: number;
}
