import {
  LEAST_CELLS,
  MARK_KINDS,
  MOST_CELLS,
  MOST_MARKS,
  MOST_ROOMS,
  type Backdrop,
  type Mark,
  type MarkKind,
  type PlanContent,
  type Room,
} from '@loka/core/plans';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
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

/** A list is no object: what is nested in one would not be looked at. */
const WHOLE = { message: 'It is an object with members, not a list.' };
const FINITE = { allowNaN: false, allowInfinity: false };
const CELLS = { message: `A plan has from ${LEAST_CELLS} to ${MOST_CELLS} cells each way.` };

class RoomInput implements Room {
  @IsString()
  @Length(1, 40)
  id!: string;

  @IsString()
  @Length(0, 40, { message: 'The name of a room has at most 40 letters.' })
  name!: string;

  @IsInt()
  x!: number;

  @IsInt()
  y!: number;

  @IsInt()
  @Min(1)
  w!: number;

  @IsInt()
  @Min(1)
  h!: number;

  @IsBoolean()
  open!: boolean;
}

class MarkInput implements Mark {
  @IsString()
  @Length(1, 40)
  id!: string;

  @IsIn(MARK_KINDS)
  kind!: MarkKind;

  @IsInt()
  ref!: number;

  @IsString()
  @Length(0, 40, { message: 'The name of an outlet has at most 40 letters.' })
  name!: string;

  @IsString()
  @Length(0, 300, { message: 'A note has at most 300 letters.' })
  note!: string;

  @IsNumber(FINITE)
  x!: number;

  @IsNumber(FINITE)
  y!: number;
}

class BackdropInput implements Backdrop {
  @IsInt()
  id!: number;

  @IsNumber(FINITE)
  @Min(0)
  @Max(1, { message: 'The strength of a picture goes from 0 to 1.' })
  strength!: number;

  @IsBoolean()
  drawing!: boolean;
}

class PlanContentInput implements PlanContent {
  @IsInt(CELLS)
  @Min(LEAST_CELLS, CELLS)
  @Max(MOST_CELLS, CELLS)
  columns!: number;

  @IsInt(CELLS)
  @Min(LEAST_CELLS, CELLS)
  @Max(MOST_CELLS, CELLS)
  rows!: number;

  @IsArray()
  @ArrayMaxSize(MOST_ROOMS, { message: `A plan has at most ${MOST_ROOMS} rooms.` })
  @IsObject({ each: true, ...WHOLE })
  @ValidateNested({ each: true })
  @Type(() => RoomInput)
  rooms!: RoomInput[];

  @IsArray()
  @ArrayMaxSize(MOST_MARKS, { message: `At most ${MOST_MARKS} things are put on one plan.` })
  @IsObject({ each: true, ...WHOLE })
  @ValidateNested({ each: true })
  @Type(() => MarkInput)
  marks!: MarkInput[];

  @IsOptional()
  @IsObject(WHOLE)
  @ValidateNested()
  @Type(() => BackdropInput)
  picture?: BackdropInput | null;
}

export class PlanInput extends Versioned {
  @IsString()
  @Length(1, 80, { message: 'Give it a name of 1 to 80 letters, for example “Ground floor”.' })
  name!: string;

  @IsObject(WHOLE)
  @ValidateNested()
  @Type(() => PlanContentInput)
  content!: PlanContentInput;
}

/** A floor plan: rooms, and what is where in them. */
export type Plan = Kept<PlanContent>;
