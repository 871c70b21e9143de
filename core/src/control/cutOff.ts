import { counts, type QualityCode } from '../series/index.js';

/** Cut a load off when a reading stays above a limit; the surge after switching on does not count. */
export interface CutOffRule {
  /** Base unit of the watched point. */
  limit: number;
  /** How long the reading must stay above the limit, ms. */
  delayMs: number;
  /** Readings in the first milliseconds after the contact has closed are ignored (5 s is common practice). */
  ignoreAfterOnMs: number;
}

export interface CutOffState {
  /** Locked out after a trip, until a person restores. */
  tripped: { at: number; value: number } | null;
  /** When the contact was last seen to close; null while it is open. */
  closedSince: number | null;
  overSince: number | null;
}

export interface CutOffInput {
  t: number;
  v: number | null;
  q: QualityCode;
  /** Read-back state of the contact; null when it is not known. */
  closed: boolean | null;
}

/** What the rule does at this moment and why, in a form that a screen can say. */
export type CutOffDecision =
  | { action: 'none'; because: 'locked-out' | 'open' | 'blind' | 'below' }
  | { action: 'none'; because: 'inrush' | 'waiting'; remainingMs: number }
  | { action: 'trip'; value: number };

export const ARMED: CutOffState = { tripped: null, closedSince: null, overSince: null };

/**
 * Moves the rule on with one reading. `closedSince` of a contact that was already closed when the rule first
 * looked is set to that moment, so that a rule armed on a running load ignores its first seconds as well.
 * What cannot be true neither trips nor calms: it is as if nothing had been read.
 * An unknown contact is taken as closed: to be blind must not mean to be unprotected.
 */
export function stepCutOff(
  rule: CutOffRule,
  state: CutOffState,
  input: CutOffInput,
): { state: CutOffState; decision: CutOffDecision } {
  const { t, v, q, closed } = input;
  if (state.tripped) return { state, decision: { action: 'none', because: 'locked-out' } };
  if (closed === false)
    return {
      state: { ...state, closedSince: null, overSince: null },
      decision: { action: 'none', because: 'open' },
    };
  const closedSince = state.closedSince ?? t;
  if (v === null || !counts(q))
    return {
      state: { ...state, closedSince, overSince: null },
      decision: { action: 'none', because: 'blind' },
    };
  const inrushLeft = closedSince + rule.ignoreAfterOnMs - t;
  if (inrushLeft > 0)
    return {
      state: { ...state, closedSince, overSince: null },
      decision: { action: 'none', because: 'inrush', remainingMs: inrushLeft },
    };
  if (!(v > rule.limit))
    return {
      state: { ...state, closedSince, overSince: null },
      decision: { action: 'none', because: 'below' },
    };
  const overSince = state.overSince ?? t;
  const left = overSince + rule.delayMs - t;
  if (left > 0)
    return {
      state: { ...state, closedSince, overSince },
      decision: { action: 'none', because: 'waiting', remainingMs: left },
    };
  return {
    state: { tripped: { at: t, value: v }, closedSince, overSince: null },
    decision: { action: 'trip', value: v },
  };
}

/** The state after a person has restored the rule. */
export const restoreCutOff = (): CutOffState => ARMED;
