import {
  CIRCUIT_PHASES,
  NODE_KINDS,
  POWER_FLOWS,
  PURPOSES,
  type JobStage,
  type NodeKind,
  type PowerFlow,
  type Purpose,
} from '@loka/core/installation';
import { IsIn, IsInt, IsNumber, IsOptional, IsPositive, IsString, Length, Max, Min } from 'class-validator';
import { Versioned } from './versioned.js';

/** Tripping characteristics (IEC 60898-1) and other protective devices of a way. */
export const PROTECTIVE_DEVICES = ['B', 'C', 'D', 'RCBO', 'RCD', 'fuse', 'switch'] as const;

export class NodeInput extends Versioned {
  @IsIn(NODE_KINDS)
  kind!: NodeKind;

  @IsOptional()
  @IsInt()
  parentId!: number | null;

  @IsString()
  @Length(1, 80, { message: 'Give it a name of 1 to 80 letters, for example “Deck oven”.' })
  name!: string;

  /** Way number on its board, or the board's mark. */
  @IsString()
  @Length(0, 12, { message: 'A way number or mark has at most 12 characters.' })
  way!: string;

  @IsIn(CIRCUIT_PHASES, { message: 'Choose the line conductors, for example L1, or all three.' })
  phases!: string;

  @IsOptional()
  @IsIn(PROTECTIVE_DEVICES)
  protectiveDevice!: string | null;

  @IsOptional()
  @IsNumber({}, { message: 'The rated current is a number in amperes, for example 16.' })
  @IsPositive({ message: 'The rated current is above 0 A.' })
  @Max(6300, { message: 'At most 6300 A.' })
  ratedCurrent!: number | null;

  /** W by the plate; null when nobody knows. */
  @IsOptional()
  @IsNumber({}, { message: 'The power is a number in watts, for example 3000.' })
  @IsPositive({ message: 'The power is above 0 W.' })
  @Max(1e7, { message: 'At most 10 MW.' })
  ratedPower?: number | null;

  /** Power factor of what it feeds: 1 for heaters; null when nobody knows. */
  @IsOptional()
  @IsNumber({}, { message: 'The power factor is a number, 1 for a heater.' })
  @Min(0.1, { message: 'The power factor lies between 0.1 and 1.' })
  @Max(1, { message: 'The power factor lies between 0.1 and 1.' })
  powerFactor?: number | null;

  /** Whether power may flow out of it; null: as its values and its name show. */
  @IsOptional()
  @IsIn(POWER_FLOWS)
  flow?: PowerFlow | null;

  /** What it is for; null: as its name and its values show. */
  @IsOptional()
  @IsIn(PURPOSES)
  purpose?: Purpose | null;

  /** Wh that a storage holds. */
  @IsOptional()
  @IsNumber({}, { message: 'The storage capacity is a number in watt-hours, for example 10000.' })
  @IsPositive({ message: 'The storage capacity is above 0 Wh.' })
  @Max(1e10, { message: 'At most 10 GWh.' })
  storageCapacity?: number | null;
}

export interface InstallationNode extends NodeInput {
  version: number;
  id: number;
  position: number;
  /** The points from which the node's now-values come; null where nothing measures it. */
  powerPointIds: number[];
  currentPointIds: number[];
  /** Whether power may flow out of it: an inverter, a battery. */
  feedsIn: boolean;
  /** What it is for as far as that is known: said by a person, or proposed by its name and values. */
  purposeShown: Purpose | null;
  job: Record<JobStage, boolean>;
  switchId: number | null;
  /** What is wrong with its wiring, as far as its readings tell; null where nothing is known to be. */
  wiringFault: string | null;
  /** Since when that has been known, UTC ms. */
  wiringFaultSince: number | null;
}
