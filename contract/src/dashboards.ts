import type {
  DashboardContent,
  DashboardElement,
  ElementKind,
  Ends,
  PhoneArrangement,
  PhonePlace,
  Source,
  SourceKind,
  Spot,
} from '@loka/core/dashboards';
import { COLUMNS, ELEMENT_KINDS, MOST_ELEMENTS, SOURCE_KINDS } from '@loka/core/dashboards';
import { NAMED_PERIODS, type NamedPeriod } from '@loka/core/time';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  Length,
  Max,
  Min,
  ValidateNested,
} from 'class-validator';
import { Versioned, type Kept } from './versioned.js';

/** Further down nobody scrolls. */
const LOWEST = 10_000;
/** A list is no object: what is nested in one would not be looked at. */
const WHOLE = { message: 'It is an object with members, not a list.' };
const FINITE = { allowNaN: false, allowInfinity: false };

class SpotInput implements Spot {
  @IsInt()
  @Min(0)
  @Max(COLUMNS - 1, { message: `The sheet has ${COLUMNS} columns, counted from 0.` })
  x!: number;

  @IsInt()
  @Min(0)
  @Max(LOWEST)
  y!: number;

  @IsInt()
  @Min(1, { message: 'It is at least one column wide.' })
  @Max(COLUMNS, { message: `It is at most ${COLUMNS} columns wide.` })
  w!: number;

  @IsInt()
  @Min(1, { message: 'It is at least one row high.' })
  @Max(100, { message: 'It is at most 100 rows high.' })
  h!: number;
}

class SourceInput implements Source {
  @IsIn(SOURCE_KINDS, { message: `What is shown is one of: ${SOURCE_KINDS.join(', ')}.` })
  of!: SourceKind;

  @IsInt()
  id!: number;
}

class ElementInput implements DashboardElement {
  @IsString()
  @Length(1, 40)
  id!: string;

  @IsIn(ELEMENT_KINDS, { message: `Loka has no element “$value”. It has: ${ELEMENT_KINDS.join(', ')}.` })
  kind!: ElementKind;

  @IsOptional()
  @IsString()
  @Length(0, 80, { message: 'A title has at most 80 letters.' })
  title!: string | null;

  @IsObject(WHOLE)
  @ValidateNested()
  @Type(() => SpotInput)
  spot!: SpotInput;

  @IsArray()
  @ArrayMaxSize(4, { message: 'At most four quantities in one element.' })
  @IsObject({ each: true, ...WHOLE })
  @ValidateNested({ each: true })
  @Type(() => SourceInput)
  shows!: SourceInput[];

  @IsOptional()
  @IsArray()
  @ArrayMinSize(2, { message: 'A band has a lower and an upper end.' })
  @ArrayMaxSize(2, { message: 'A band has a lower and an upper end.' })
  @IsNumber(FINITE, { each: true, message: 'The ends of a band are numbers.' })
  band!: Ends | null;

  @IsOptional()
  @IsArray()
  @ArrayMinSize(2, { message: 'A scale has a lower and an upper end.' })
  @ArrayMaxSize(2, { message: 'A scale has a lower and an upper end.' })
  @IsNumber(FINITE, { each: true, message: 'The ends of a scale are numbers.' })
  scale!: Ends | null;

  @IsOptional()
  @IsNumber(FINITE)
  nominal!: number | null;

  @IsOptional()
  @IsInt({ message: 'Digits are a whole number.' })
  @Min(0, { message: 'Digits are not fewer than none.' })
  @Max(6, { message: 'At most six digits after the point.' })
  digits!: number | null;

  @IsOptional()
  @IsIn(NAMED_PERIODS, { message: `A span is one of: ${NAMED_PERIODS.join(', ')}.` })
  span!: NamedPeriod | null;

  @IsString()
  @Length(0, 2000, { message: 'A text has at most 2000 letters.' })
  text!: string;
}

class PhonePlaceInput implements PhonePlace {
  @IsString()
  @Length(1, 40)
  id!: string;

  @IsBoolean()
  half!: boolean;
}

class PhoneInput implements PhoneArrangement {
  @IsArray()
  @ArrayMaxSize(MOST_ELEMENTS)
  @IsObject({ each: true, ...WHOLE })
  @ValidateNested({ each: true })
  @Type(() => PhonePlaceInput)
  shown!: PhonePlaceInput[];

  @IsArray()
  @ArrayMaxSize(MOST_ELEMENTS)
  @IsString({ each: true })
  @Length(1, 40, { each: true })
  away!: string[];
}

class ContentInput implements DashboardContent {
  @IsArray()
  @ArrayMaxSize(MOST_ELEMENTS, { message: `A dashboard has at most ${MOST_ELEMENTS} elements.` })
  @IsObject({ each: true, ...WHOLE })
  @ValidateNested({ each: true })
  @Type(() => ElementInput)
  elements!: ElementInput[];

  @IsObject(WHOLE)
  @ValidateNested()
  @Type(() => PhoneInput)
  phone!: PhoneInput;
}

export class DashboardInput extends Versioned {
  @IsString()
  @Length(1, 80, { message: 'Give it a name of 1 to 80 letters, for example “Day shift”.' })
  name!: string;

  @IsObject(WHOLE)
  @ValidateNested()
  @Type(() => ContentInput)
  content!: ContentInput;
}

/** A page that somebody has made: its elements on the sheet and on a phone. */
export type Dashboard = Kept<DashboardContent>;

/** As it was before a change. */
export interface DashboardVersion {
  id: number;
  name: string;
  content: DashboardContent;
  /** Until when it was so. */
  until: number;
  who: string;
}

export class DashboardRestore {
  @IsInt({ message: 'Choose a version.' })
  versionId!: number;

  @IsInt({ message: 'Send the version that was looked at.' })
  version!: number;
}
