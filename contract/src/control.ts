import type { CutOffDecision, SwitchAgreement } from '@loka/core/control';
import { IsBoolean, IsInt, IsNumber, IsOptional, IsString, Length, Max, Min } from 'class-validator';
import { Versioned } from './versioned.js';

export class SwitchInput extends Versioned {
  @IsString()
  @Length(1, 80, { message: 'Give the switch a name of 1 to 80 letters.' })
  name!: string;

  @IsInt({ message: 'Choose the circuit or load that it switches.' })
  nodeId!: number;

  @IsInt({ message: 'Choose the point that is written.' })
  commandPointId!: number;

  @IsInt({ message: 'Choose the point that reports the contact.' })
  statePointId!: number;

  @IsInt({ message: 'The time-out is a whole number of milliseconds.' })
  @Min(500, { message: 'At least 500 ms.' })
  @Max(60_000, { message: 'At most one minute.' })
  timeoutMs!: number;
}

export class SwitchCommand {
  @IsBoolean({ message: 'Say closed (true) or open (false).' })
  closed!: boolean;
}

/** What caused a switch to be operated. */
export type OperationCause = 'person' | 'cut-off' | 'restore';

export interface SwitchOperation {
  id: string;
  switchId: number;
  switchName: string;
  at: number;
  closed: boolean;
  cause: OperationCause;
  who: string;
  /** Why, in words, with the value that caused it. */
  reason: string;
  outcome: 'waiting' | 'confirmed' | 'mismatch' | 'failed';
  outcomeAt: number | null;
  message: string | null;
}

export interface Switch extends SwitchInput {
  version: number;
  id: number;
  /** What is wanted, what was last sent, what the device reports: true is closed. */
  wanted: boolean | null;
  commanded: boolean | null;
  commandedAt: number | null;
  readBack: boolean | null;
  readBackAt: number | null;
  agreement: SwitchAgreement;
  /** Why it may not be closed now, in words; null when it may. */
  lockout: string | null;
  /** Since when its state is not known; null while it is, and where it never was. */
  unknownSince: number | null;
  /** What is missing of what it depends on, in words. */
  missing: string | null;
}

export class CutOffRuleInput extends Versioned {
  @IsInt({ message: 'Choose the switch to open.' })
  switchId!: number;

  @IsInt({ message: 'Choose the point to watch.' })
  pointId!: number;

  /** Base unit. */
  @IsNumber(
    { allowNaN: false, allowInfinity: false },
    { message: 'The limit is a number, for example 3500.' },
  )
  limit!: number;

  @IsInt({ message: 'The delay is a whole number of milliseconds.' })
  @Min(0, { message: 'A delay is not negative.' })
  @Max(3_600_000, { message: 'At most an hour.' })
  delayMs!: number;

  @IsInt({ message: 'The time to ignore is a whole number of milliseconds.' })
  @Min(0, { message: 'It is not negative.' })
  @Max(600_000, { message: 'At most ten minutes.' })
  ignoreAfterOnMs!: number;

  /** Without a reading for longer than this, it says that it protects no more. */
  @IsOptional()
  @IsInt({ message: 'It is a whole number of milliseconds.' })
  @Min(2000, { message: 'At least two seconds.' })
  @Max(86_400_000, { message: 'At most a day.' })
  blindAfterMs?: number;

  /** Whether the switch is opened then. */
  @IsOptional()
  @IsBoolean()
  openWhenBlind?: boolean;

  @IsBoolean()
  enabled!: boolean;
}

export interface CutOffRule extends CutOffRuleInput {
  version: number;
  id: number;
  blindAfterMs: number;
  openWhenBlind: boolean;
  /** `value` is null when it was opened because nothing could be seen. */
  tripped: { at: number; value: number | null } | null;
  decision: CutOffDecision | null;
  /** What is missing of what it depends on, in words; it protects nothing then. */
  missing: string | null;
}

/** What a load draws, as far as it was read, for whoever sets a limit on it. */
export interface LoadDraw {
  calibrated: boolean;
  /** It stays below this but for one minute in a hundred of the last week, base unit; null where too little was read. */
  usual: number | null;
  /** By how much a reading of that may be off, expanded, base unit. */
  uncertainty: number | null;
}

export class RestoreInput {
  /** Whether the switch is closed again at once. */
  @IsOptional()
  @IsBoolean()
  close?: boolean;
}
