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
  IsString,
  Length,
  Max,
  Min,
  ValidateIf,
  ValidateNested,
} from 'class-validator';
import {
  REFERENCE_KINDS,
  FIT_METHODS,
  type Capture,
  type ClassVerdict,
  type Fit,
  type FitMethod,
  type ReferenceKind,
} from '@loka/core/calibration';
import type { Knot, Line } from '@loka/core/series';
import type { UsedInstrument } from './instruments.js';

const NUMBER = { message: 'Type a number.' };

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

  /** What it said, base unit; of another meter what that read is taken instead. */
  @IsNumber({}, { message: 'The reference is a number in the point’s unit.' })
  reference!: number;

  /** What said it. Left out: nothing flowing where it is 0, else an instrument. */
  @IsOptional()
  @IsIn(REFERENCE_KINDS)
  kind?: ReferenceKind;

  /** Which instrument or load: what those of one name say shares its error. */
  @IsOptional()
  @IsString()
  @Length(0, 60)
  name?: string;

  /** One of the site's reference instruments. */
  @IsOptional()
  @IsInt()
  instrumentId?: number;

  /** Its tolerance, percent of what it shows. */
  @IsOptional()
  @IsNumber({}, { message: 'The tolerance is a number of percent.' })
  @Min(0, { message: 'A tolerance is not below 0 %.' })
  @Max(100, { message: 'A reference that may be wrong by 100 % is no reference.' })
  percent?: number;

  /** By how much it fluttered to either side, base unit. */
  @IsOptional()
  @IsNumber({}, NUMBER)
  @Min(0, { message: 'The flutter is not below 0.' })
  flutter?: number;

  /** Its smallest digit, base unit. */
  @IsOptional()
  @IsNumber({}, NUMBER)
  @Min(0, { message: 'A digit is 0 or more.' })
  digit?: number;

  /** Error that a test bench has found at the reference, percent of it; nothing is captured then. */
  @ValidateIf((p: CalibrationPointInput) => p.kind === 'bench')
  @IsNumber({}, { message: 'The error is a number of percent.' })
  @Min(-90, { message: 'An error of −90 % cannot be corrected.' })
  @Max(1000, { message: 'An error of 1000 % cannot be corrected.' })
  error?: number;

  /** The other meter. */
  @IsOptional()
  @IsInt()
  pointId?: number;

  /** Left out of the fit, to check it. */
  @IsOptional()
  @IsBoolean()
  check?: boolean;
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
  @IsInt({ message: 'Choose from when it applies.' })
  @Min(0)
  validFrom!: number;

  /** Whether the power of the same clamp is scaled by the same gain. */
  @IsBoolean()
  withPower!: boolean;

  /** What is found from the points; left out: a zero moves, one load scales, more make a line. */
  @IsOptional()
  @IsIn(FIT_METHODS)
  method?: FitMethod;

  /** Minutes of angle by which the transducer displaces the phase, of an active power: positive where its current leads. */
  @IsOptional()
  @IsNumber({}, NUMBER)
  @Min(-600, { message: 'At most 600 minutes to either side.' })
  @Max(600, { message: 'At most 600 minutes to either side.' })
  displacement?: number;

  /** Readings nearer to zero than this are none, base unit. */
  @IsOptional()
  @IsNumber({}, NUMBER)
  @Min(0, { message: 'At least 0.' })
  noLoad?: number;

  /** The newest calibration of the point that was seen, 0 without one: what somebody else has made since is not replaced unseen. */
  @IsOptional()
  @IsInt()
  basis?: number;

  /** After so many months it is due again; left out: as is common. */
  @IsOptional()
  @IsInt({ message: 'Months are a whole number.' })
  @Min(1, { message: 'At least one month.' })
  @Max(240, { message: 'At most twenty years.' })
  dueMonths?: number;

  /** Said of a correction that is to reach back over a change of wiring, transducer or setting anyway. */
  @IsOptional()
  @IsBoolean()
  anyway?: boolean;

  /** Said of a correction that looks odd: a zero with a load on, a gain far from 1 or below 0. */
  @IsOptional()
  @IsBoolean()
  meant?: boolean;
}

/** What another meter read over a span, base unit: its mean, as it is corrected, and the standard uncertainty of that. */
export interface ComparedMeter {
  value: number;
  own: number;
}

export interface CalibrationPoint extends CalibrationPointInput {
  capture: Capture;
  /** Percent of the reference; null at zero. */
  asFound: number | null;
  asLeft: number | null;
  /** Expanded uncertainty of the errors, 95 %, base unit; missing where it was made before Loka computed it. */
  uncertainty?: number;
  /** Standard uncertainty of the reference that is this point's own, base unit; and the relative one that it shares with those of its key. */
  own?: number;
  shared?: number;
  key?: string;
  /** What was read once its phase was put right; missing where that is the mean of the capture. */
  turned?: number;
  /** The instrument as it was then. */
  instrument?: UsedInstrument;
}

/** Points that take over a correction: of devices alike, and not measured. */
export class CalibrationCopy {
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose at least one.' })
  @ArrayMaxSize(100, { message: 'At most 100 at once.' })
  @IsInt({ each: true })
  pointIds!: number[];

  /** From when on it holds for them, UTC ms. */
  @IsInt({ message: 'Choose from when it applies.' })
  @Min(0)
  validFrom!: number;
}

export interface Calibration {
  id: number;
  pointId: number;
  madeAt: number;
  validFrom: number;
  gain: number;
  offset: number;
  /** Where it bends; null where it is straight. */
  knots: Knot[] | null;
  /** Nearer to zero than this nothing flows, base unit. */
  noLoad: number | null;
  /** Minutes by which the transducer displaces the phase, for a power. */
  displacement: number | null;
  /** How gain and offset were found, and how certain they are; null of one that was made before Loka computed it. */
  fit: Fit | null;
  /** The best class that its points are evidence for; null where they are for none. */
  best: ClassVerdict | null;
  points: CalibrationPoint[];
  /** Point whose power took the same gain, or null. */
  powerPointId: number | null;
  /** Undone or replaced: no longer in force. */
  superseded: boolean;
  undoable: boolean;
  /** Who made it; '' of one of before that was noted. */
  who: string;
  /** When it should be done again, UTC ms; null of one of before that was proposed. */
  dueAt: number | null;
  /** Copied from a like device, and not measured. */
  copiedFrom: { id: number; device: string } | null;
}

/** What corrects a point now. */
export interface CorrectionInForce extends Line {
  displacement: number | null;
  validFrom: number;
  /** The point with whose calibration it came, where that is another one. */
  with: string | null;
}

/** A calibrated point that is to be calibrated again by a day. */
export interface DueSeen {
  pointId: number;
  /** UTC ms */
  dueAt: number;
}

/** A calibrated point whose ratio to one that measures the same has changed since it was calibrated. */
export interface DriftSeen {
  pointId: number;
  neighbourId: number;
  neighbour: string;
  /** Change of the ratio, and its expanded uncertainty, 95 %. */
  by: number;
  uncertainty: number;
  /** ms */
  over: number;
}

/** What a correction would change in a part of the past, Wh net; null where nothing is known of it. */
export interface ChangedMonth {
  from: number;
  to: number;
  before: number | null;
  after: number | null;
}
