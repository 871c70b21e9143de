import type { AlertPhase } from '@loka/core/alerts';
import { IsBoolean, IsIn, IsInt, IsNumber, IsString, Length, Max, Min } from 'class-validator';
import { Versioned } from './versioned.js';

const DELAY = { message: 'A delay is a whole number of milliseconds.' };

export class AlertRuleInput extends Versioned {
  @IsString()
  @Length(1, 80, { message: 'Give the alert a name of 1 to 80 letters, for example “Low voltage L2”.' })
  name!: string;

  @IsInt({ message: 'Choose the point to watch.' })
  pointId!: number;

  @IsIn(['above', 'below'])
  direction!: 'above' | 'below';

  /** Base unit. */
  @IsNumber({ allowNaN: false, allowInfinity: false }, { message: 'The limit is a number, for example 207.' })
  limit!: number;

  @IsNumber({ allowNaN: false, allowInfinity: false }, { message: 'The deadband is a number.' })
  @Min(0, { message: 'The deadband is not negative.' })
  deadband!: number;

  @IsInt(DELAY)
  @Min(0, { message: 'A delay is not negative.' })
  @Max(86_400_000, { message: 'At most a day.' })
  onDelayMs!: number;

  @IsInt(DELAY)
  @Min(0, { message: 'A delay is not negative.' })
  @Max(86_400_000, { message: 'At most a day.' })
  offDelayMs!: number;

  @IsBoolean()
  enabled!: boolean;
}

export interface AlertRule extends AlertRuleInput {
  version: number;
  id: number;
  phase: AlertPhase;
  /** What is missing of what it depends on, in words. */
  missing: string | null;
}

/**
 * What an alert is of: a reading beyond its limit, a switch that is locked out or stands otherwise than commanded, a cut-off
 * that sees nothing, something that depends on what is no longer there, or a meter that is wired wrongly.
 */
export const ALERT_KINDS = ['limit', 'lockout', 'disagreement', 'blind', 'missing', 'wiring'] as const;
export type AlertKind = (typeof ALERT_KINDS)[number];

/** One occurrence of an alert. */
export interface Alert {
  id: string;
  kind: AlertKind;
  /** Null of other kinds than a limit. */
  ruleId: number | null;
  pointId: number | null;
  name: string;
  /** The condition in words, e.g. "below 207 V". */
  condition: string;
  raisedAt: number;
  /** Reading that raised it, base unit. */
  value: number | null;
  returnedAt: number | null;
  acknowledgedAt: number | null;
  acknowledgedBy: string | null;
  phase: AlertPhase;
}
