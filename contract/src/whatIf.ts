import type { WhatIfAnswer } from '@loka/core/profile';
import {
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
  ValidateIf,
} from 'class-validator';

/** What can be done about a load. */
export const LOAD_CHANGES = ['none', 'standby', 'hours', 'later', 'instead'] as const;
export type LoadChangeKind = (typeof LOAD_CHANGES)[number];

const A_NUMBER = { message: 'Type a number.' };
const NUMBER = { allowNaN: false, allowInfinity: false };
const MOST = { message: 'That is more than any site has.' };

/** What would be if a load did something else, and with a plant or a store beside the supply. Powers in W, energy in Wh. */
export class WhatIfInput {
  /** The period out of which it is worked out, UTC ms. */
  @IsInt()
  from!: number;

  @IsInt()
  to!: number;

  @IsIn(LOAD_CHANGES)
  change: LoadChangeKind = 'none';

  /** How long it runs a day, or by how much it is later. */
  @ValidateIf((i: WhatIfInput) => i.change === 'hours' || i.change === 'later')
  @IsNumber(NUMBER, A_NUMBER)
  @Min(-24, { message: 'A day has 24 hours.' })
  @Max(24, { message: 'A day has 24 hours.' })
  hours: number = 0;

  /** The place whose load stands in its place; and how many times as much. */
  @ValidateIf((i: WhatIfInput) => i.change === 'instead')
  @IsInt({ message: 'Choose a place.' })
  instead: number | null = null;

  @IsNumber(NUMBER, A_NUMBER)
  @Min(0, { message: 'Not below zero.' })
  @Max(1000, { message: 'At most a thousand times as much.' })
  times: number = 1;

  /** Peak power of a new roof plant; 0 where there is none. */
  @IsNumber(NUMBER, A_NUMBER)
  @Min(0, { message: 'Not below zero.' })
  @Max(1e9, MOST)
  roof: number = 0;

  /** The place whose plant shows how much such a one gives, and the peak power of that. */
  @IsOptional()
  @IsInt({ message: 'Choose a place.' })
  like: number | null = null;

  @ValidateIf((i: WhatIfInput) => i.roof > 0 && i.like !== null)
  @IsNumber(NUMBER, A_NUMBER)
  @Min(1, { message: 'A plant needs a peak power above zero.' })
  @Max(1e9, MOST)
  likePeak: number = 0;

  /** Instead of such a place: what a kilowatt of peak power gives in each hour of a year, W, a line an hour from 1 January. */
  @IsOptional()
  @IsString()
  @MaxLength(900_000, { message: 'That is more than the hours of a year.' })
  hoursOfYear: string | null = null;

  /** What a new store holds; 0 where there is none. And how much it takes or gives. */
  @IsNumber(NUMBER, A_NUMBER)
  @Min(0, { message: 'Not below zero.' })
  @Max(1e9, MOST)
  store: number = 0;

  @ValidateIf((i: WhatIfInput) => i.store > 0)
  @IsNumber(NUMBER, A_NUMBER)
  @Min(1, { message: 'A store needs a power above zero.' })
  @Max(1e9, MOST)
  storePower: number = 0;

  /** Of what goes in so much comes out, 0 to 1. */
  @IsNumber(NUMBER, A_NUMBER)
  @Min(0.01, { message: 'A store gives back more than 0 %.' })
  @Max(1, { message: 'No store gives more than it takes.' })
  storeEfficiency: number = 0.9;
}

export interface PlaceWhatIf extends WhatIfAnswer {
  nodeId: number;
  from: number;
  to: number;
  /** Length of the spans that were gone through, ms. */
  step: number;
  /** The supply that it is told for; null where nothing measures one. */
  supplyId: number | null;
  /** Whether that is the sum of what is measured behind it: what is not measured is not in it. */
  isSummed: boolean;
}
