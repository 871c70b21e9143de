import { MOST_LOADS } from '@loka/contract/backup';
import { LONGEST_OUTAGE } from '@loka/core/profile';
import { Transform, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsInt,
  IsNumber,
  IsOptional,
  Max,
  Min,
} from 'class-validator';
import { PeriodQuery } from '../series/period.dto.js';

const NUMBER = { allowNaN: false, allowInfinity: false };
const A_NUMBER = { message: 'Type a number.' };
/** A large power station; whoever types more has slipped. */
const MOST = 1e10;

/** Which loads, on which source, for how long. Powers in W, energy in Wh, shares from 0 to 1. */
export class BackupQuery extends PeriodQuery {
  @Transform(({ value }: { value: string | string[] }) =>
    String(value).split(',').filter(Boolean).map(Number),
  )
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose a load.' })
  @ArrayMaxSize(MOST_LOADS, { message: `At most ${MOST_LOADS} loads.` })
  @ArrayUnique({ message: 'Each load once.' })
  @IsInt({ each: true, message: 'Loads are given by their numbers.' })
  nodes!: number[];

  @Type(() => Number)
  @IsNumber(NUMBER, A_NUMBER)
  @Min(1, { message: 'A source needs power above zero.' })
  @Max(MOST, { message: 'That is more than any source gives.' })
  continuous!: number;

  @Type(() => Number)
  @IsNumber(NUMBER, A_NUMBER)
  @Min(1, { message: 'A source needs power above zero.' })
  @Max(MOST, { message: 'That is more than any source gives.' })
  peak!: number;

  @Type(() => Number)
  @IsNumber(NUMBER, A_NUMBER)
  @Min(0, { message: 'Not below zero.' })
  @Max(3600, { message: 'What it gives for more than an hour is its continuous power.' })
  peakFor!: number;

  @Type(() => Number)
  @IsNumber(NUMBER, A_NUMBER)
  @Min(1, { message: 'A source needs energy above zero.' })
  @Max(MOST, { message: 'That is more than any source stores.' })
  energy!: number;

  @Type(() => Number)
  @IsNumber(NUMBER, A_NUMBER)
  @Min(0.01, { message: 'The losses are less than 100 %.' })
  @Max(1, { message: 'No source gives more than it stores.' })
  efficiency!: number;

  @Type(() => Number)
  @IsNumber(NUMBER, A_NUMBER)
  @Min(0.01, { message: 'A source is not empty at the start.' })
  @Max(1, { message: 'At most full.' })
  charged!: number;

  @Type(() => Number)
  @IsInt({ message: 'Type a number.' })
  @Min(60_000, { message: 'A minute at least.' })
  @Max(LONGEST_OUTAGE, { message: 'Fourteen days at most.' })
  lasting!: number;

  /** A place that gives power; and how many times as much of it there is. */
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  sun?: number;

  @IsOptional()
  @Type(() => Number)
  @IsNumber(NUMBER, A_NUMBER)
  @Min(0, { message: 'Not below zero.' })
  @Max(1000, { message: 'At most a thousand times as much.' })
  times?: number;

  @IsOptional()
  @Type(() => Number)
  @IsInt()
  at?: number;
}
