import { SUPPLY_SYSTEMS, type SupplySystem } from '@loka/core/installation';
import { isTimeZone } from '@loka/core/time';
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsIn,
  IsInt,
  IsISO4217CurrencyCode,
  IsISO8601,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  Min,
  registerDecorator,
} from 'class-validator';
import { Versioned } from './versioned.js';

/** Site schemes of conductor colours; the values are the standards' names. */
export const CONDUCTOR_SCHEMES = ['iec-60445'] as const;
export type ConductorScheme = (typeof CONDUCTOR_SCHEMES)[number];

/** A zone of the IANA database, e.g. Europe/Lisbon. */
const IsZone = (): PropertyDecorator => (target, propertyName) =>
  registerDecorator({
    name: 'isZone',
    target: target.constructor,
    propertyName: propertyName as string,
    options: { message: 'Not a time zone. Write it as Europe/Lisbon.' },
    validator: { validate: (value: unknown) => typeof value === 'string' && isTimeZone(value) },
  });

const DAY = { each: true, message: 'One day per line, as 2026-12-25.' };

export class SiteInput extends Versioned {
  @IsString()
  @Length(1, 80, { message: 'Give the site a name of 1 to 80 letters.' })
  name!: string;

  @IsZone()
  timeZone!: string;

  @IsNumber({}, { message: 'The nominal voltage is a number in volts, for example 230.' })
  @Min(50, { message: 'At least 50 V.' })
  @Max(1000, { message: 'At most 1000 V; this is for low-voltage installations.' })
  nominalVoltage!: number;

  @IsIn([50, 60], { message: 'The frequency is 50 or 60 Hz.' })
  frequency!: number;

  @IsIn(SUPPLY_SYSTEMS)
  supplySystem: SupplySystem = 'three-phase';

  @IsIn(CONDUCTOR_SCHEMES)
  conductorScheme!: ConductorScheme;

  @IsISO4217CurrencyCode({ message: 'A currency is written in three letters, for example EUR.' })
  currency: string = 'EUR';

  /** Of a kilowatt-hour from the supply; null when nobody has said. */
  @IsOptional()
  @IsNumber({}, { message: 'The price of a kilowatt-hour is a number, for example 0.21.' })
  @Min(0, { message: 'The price is not below 0.' })
  @Max(1e6, { message: 'That is more than a kilowatt-hour costs anywhere.' })
  price: number | null = null;

  /** Grams of CO₂ of a kilowatt-hour from the supply; null when nobody has said. */
  @IsOptional()
  @IsNumber({}, { message: 'Grams of CO₂ for a kilowatt-hour, for example 180.' })
  @Min(0, { message: 'Not below 0 g.' })
  @Max(5000, { message: 'At most 5000 g; lignite has about 1100.' })
  carbon: number | null = null;

  /** The point that measures the temperature outside; null where none does. */
  @IsOptional()
  @IsInt({ message: 'Choose a thermometer, or none.' })
  outdoorPointId: number | null = null;

  /** Days of the week on which the site is closed, 1 is Monday. */
  @IsArray()
  @ArrayUnique()
  @ArrayMaxSize(6, { message: 'At least one day of the week has to be a working day.' })
  @IsIn([1, 2, 3, 4, 5, 6, 7], { each: true })
  closedDays: number[] = [6, 7];

  /** Further days on which it is closed, as 2026-12-25. */
  @IsArray()
  @ArrayMaxSize(1000)
  @ArrayUnique({ message: 'One day is listed twice.' })
  @Matches(/^\d{4}-\d\d-\d\d$/, DAY)
  @IsISO8601({ strict: true }, DAY)
  holidays: string[] = [];
}

/** When the site got another time zone. */
export interface ZoneChange {
  at: number;
  zoneBefore: string;
  zoneAfter: string;
}

export interface Site extends SiteInput {
  version: number;
  id: number;
}
