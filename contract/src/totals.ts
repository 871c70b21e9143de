import { IsIn, IsInt, IsString, Length } from 'class-validator';

/** What runs on until somebody clears it. */
export const TOTAL_KINDS = ['energy', 'run-time'] as const;
export type TotalKind = (typeof TOTAL_KINDS)[number];

/** The clearing of a running total: deliberate, with the place's name typed. */
export class ClearTotalInput {
  @IsInt()
  nodeId!: number;

  @IsIn(TOTAL_KINDS)
  kind!: TotalKind;

  /** The name of the place, as it is written. */
  @IsString()
  @Length(1, 80, { message: 'Type the name of the place.' })
  name!: string;
}

/** What was cleared, when, by whom, and what stood there. */
export interface Clearing {
  id: number;
  nodeId: number;
  kind: TotalKind;
  at: number;
  who: string;
  /** Wh or ms that stood there; null where nothing was known. */
  stood: number | null;
}

/** A total since it was cleared last, or since the first reading. */
export interface RunningTotal {
  kind: TotalKind;
  since: number | null;
  /** Wh taken from above, or ms on; null where nothing tells. */
  value: number | null;
  /** Share of the time for which it is known. */
  known: number;
  /** Starts in that time; of run time alone. */
  starts: number | null;
  /** Above what it is taken to run, W; of run time alone. */
  threshold: number | null;
  /** Newest first. */
  clearings: Clearing[];
}

/** Run time and starts over a period. */
export interface RunningSeen {
  runMs: number;
  starts: number;
  known: number;
  /** Whether single readings were counted, or minutes, of which starts may be more. */
  exact: boolean;
  threshold: number;
}
