import { IsBoolean, IsInt, IsNumber, IsOptional, IsPositive, Min } from 'class-validator';

/** What a reading, or a counter, did that did not count as it was read. */
export type DoubtKind =
  'implausible' | 'glitch' | 'rolled-over' | 'reset' | 'fell-back' | 'exchange' | 'returned';

/** Readings that did not count as they were read, what was made of them, and what a person has said. */
export interface Doubt {
  pointId: number;
  kind: DoubtKind;
  /** UTC ms; `until` belongs to it. */
  t: number;
  until: number;
  /** The counter before it; null where there is none. */
  before: number | null;
  /** What was read, base unit. */
  after: number | null;
  /** What was counted for it, Wh; null for what is no counter. */
  counted: number | null;
  readings: number;
  verdict: { id: number; counts: boolean; who: string; at: number } | null;
}

/** A person's word on the readings of a span: they count, or they do not. */
export class VerdictInput {
  @IsInt()
  pointId!: number;

  @IsInt({ message: 'The start is an instant in milliseconds.' })
  @Min(0)
  from!: number;

  /** The end does not belong to it. */
  @IsInt({ message: 'The end is an instant in milliseconds.' })
  @Min(0)
  to!: number;

  @IsBoolean()
  counts!: boolean;
}

/** A counter that was removed and the one put in its place, with both readings. */
export class ExchangeInput {
  @IsInt()
  pointId!: number;

  @IsInt({ message: 'Enter when the meter was exchanged.' })
  @Min(0)
  t!: number;

  /** Last reading of the old one, base unit. */
  @IsNumber({}, { message: 'The last reading of the old meter is a number.' })
  @Min(0, { message: 'A counter does not read below 0.' })
  before!: number;

  @IsNumber({}, { message: 'The first reading of the new meter is a number.' })
  @Min(0, { message: 'A counter does not read below 0.' })
  after!: number;
}

export interface Exchange extends ExchangeInput {
  who: string;
  at: number;
}

/** What somebody knows of a counter; what is missing is taken from its register and its place. */
export class CounterInput {
  /** One more than its largest reading, base unit: 100 000 kWh for a display of 99 999.9. */
  @IsOptional()
  @IsNumber({}, { message: 'It is a number, for example 100000.' })
  @IsPositive({ message: 'It is above 0.' })
  modulus?: number | null;

  /** One count, base unit. */
  @IsOptional()
  @IsNumber({}, { message: 'It is a number, for example 0.1.' })
  @IsPositive({ message: 'It is above 0.' })
  resolution?: number | null;

  /** The largest power that can be behind it, W. */
  @IsOptional()
  @IsNumber({}, { message: 'It is a number in watts, for example 14000.' })
  @IsPositive({ message: 'It is above 0 W.' })
  largestPower?: number | null;
}

/** How a counter is followed: what limits it, and whether somebody has set that. */
export interface CounterRulesSeen {
  modulus: number | null;
  resolution: number;
  largestPower: number;
  set: { modulus: boolean; resolution: boolean; largestPower: boolean };
}
