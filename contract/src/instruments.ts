import { IsISO8601, IsNumber, IsString, Length, Matches, Max, Min, ValidateIf } from 'class-validator';
import { Versioned } from './versioned.js';

const DAY = { message: 'Write the day as 2026-03-31.' };

/** A reference instrument: what readings are compared with, and until when its own calibration is good. */
export class InstrumentInput extends Versioned {
  @IsString()
  @Length(1, 60, { message: 'Name it, for example “Clamp meter 2”.' })
  name!: string;

  @IsString()
  @Length(0, 60, { message: 'At most 60 letters.' })
  serial!: string;

  /** Its tolerance, percent of what it shows; that of one range may be typed where it is used. */
  @IsNumber({}, { message: 'The tolerance is a number of percent.' })
  @Min(0, { message: 'A tolerance is not below 0 %.' })
  @Max(100, { message: 'A reference that may be wrong by 100 % is no reference.' })
  percent!: number;

  /** Of its own calibration: who made it, and its number. */
  @IsString()
  @Length(0, 120, { message: 'At most 120 letters.' })
  certificate!: string;

  /** The day of its own calibration; null where nobody knows. */
  @ValidateIf((i: InstrumentInput) => (i.calibratedOn ?? '') !== '')
  @Matches(/^\d{4}-\d\d-\d\d$/, DAY)
  @IsISO8601({ strict: true }, DAY)
  calibratedOn?: string | null;

  /** The day by which it has to be calibrated again; null where nobody has said. */
  @ValidateIf((i: InstrumentInput) => (i.dueOn ?? '') !== '')
  @Matches(/^\d{4}-\d\d-\d\d$/, DAY)
  @IsISO8601({ strict: true }, DAY)
  dueOn?: string | null;
}

export interface Instrument extends InstrumentInput {
  id: number;
  version: number;
  calibratedOn: string | null;
  dueOn: string | null;
  /** Its due day has passed, by the site's calendar. */
  isDue: boolean;
}

/** An instrument as it was when it was used: it stays with the calibration. */
export interface UsedInstrument {
  name: string;
  serial: string;
  certificate: string;
  calibratedOn: string | null;
  dueOn: string | null;
  /** It was due already when it was used. */
  wasDue: boolean;
}
