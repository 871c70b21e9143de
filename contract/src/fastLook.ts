import type { FastTrace } from '@loka/core/fastLook';
import type { Phase, Quantity } from '@loka/core/quantities';
import { IsInt, Max, Min } from 'class-validator';

/** Longest that a device is polled as fast as it answers, s. */
export const LONGEST_LOOK = 60;

export class FastLookInput {
  @IsInt({ message: 'Choose the place.' })
  nodeId!: number;

  @IsInt({ message: 'The time is a whole number of seconds.' })
  @Min(2, { message: 'At least 2 s.' })
  @Max(LONGEST_LOOK, { message: `At most ${LONGEST_LOOK} s: the line is for the others as well.` })
  seconds!: number;
}

/** One value of a fast look. Instants are ms since it began. */
export interface FastLookTrace extends FastTrace {
  pointId: number;
  name: string;
  quantity: Quantity;
  phase: Phase | null;
}

/** A device of a place, polled for some seconds as fast as it answers. */
export interface FastLook {
  /** Null as long as it is under way. */
  id: number | null;
  nodeId: number;
  deviceName: string;
  startedAt: number;
  /** When it ends, or ended. */
  endedAt: number;
  who: string;
  traces: FastLookTrace[];
  /** Why it ended before its time; null where it did not. */
  trouble: string | null;
}

/** What is told of a place: the look under way, and those that are kept, newest first. */
export interface FastLooksSeen {
  running: FastLook | null;
  kept: Omit<FastLook, 'traces'>[];
}
