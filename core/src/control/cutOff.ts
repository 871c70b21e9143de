import { counts, isUsable, QUALITY, type QualityCode } from '../series/index.js';

/** Cut a load off when a reading stays above a limit; the surge after switching on does not count. */
export interface CutOffRule {
  /** Base unit of the watched point. */
  limit: number;
  /** How long the reading must stay above the limit, ms. */
  delayMs: number;
  /** Readings in the first milliseconds after the contact has closed are ignored (5 s is common practice). */
  ignoreAfterOnMs: number;
  /** Only how large the reading is counts: of a current its sign says how the clamp sits, not how much flows. */
  magnitude: boolean;
  /** For how long a reading stands while no other comes, ms. */
  holdMs: number;
  /** Without a reading for longer than this, ms, the rule no longer protects, and says so. */
  blindAfterMs: number;
  /** Whether the switch is opened then. */
  openWhenBlind: boolean;
}

/** Instants are by the monotonic clock, ms, but for what is said: that is the reading's own time. */
export interface CutOffState {
  /** Locked out after a trip, until a person restores. `value` is null when it was opened because nothing could be seen. */
  tripped: { at: number; value: number | null } | null;
  /** When the contact was last seen to close; null while it is open. */
  closedSince: number | null;
  /** The excess under way. */
  over: Excess | null;
  /** When a reading last counted; since when one is waited for, before the first. */
  seen: number | null;
  /** What the latest reading was, where it does not count. */
  lost: 'blind' | 'implausible' | null;
}

interface Excess {
  since: number;
  /** The latest reading that was above, and the time that it says, UTC ms. */
  value: number;
  t: number;
}

/** A reading of the watched point, with the time that it says, UTC ms. */
export interface CutOffReading {
  t: number;
  v: number | null;
  q: QualityCode;
}

export interface CutOffInput {
  /** Now, by the monotonic clock. */
  now: number;
  /** Now, UTC ms; only for what is said. */
  t: number;
  /** Null when time has passed and nothing has been read. */
  reading: CutOffReading | null;
  /** Read-back state of the contact; null when it is not known. */
  closed: boolean | null;
}

/** What the rule does at this moment and why, in a form that a screen can say. */
export type CutOffDecision =
  | { action: 'none'; because: 'locked-out' | 'open' | 'implausible' | 'below' }
  /** `long`: for longer than the rule allows. */
  | { action: 'none'; because: 'blind'; long: boolean }
  | { action: 'none'; because: 'inrush' | 'waiting'; remainingMs: number }
  | { action: 'trip'; value: number | null };

export const ARMED: CutOffState = { tripped: null, closedSince: null, over: null, seen: null, lost: null };

/**
 * Moves the rule on, with a reading or with the time that has passed.
 *
 * The delay runs from the first reading above the limit to the first one at or below it; when it is over, the rule trips,
 * and waits for no further reading. What is lost or cannot be true in between neither trips nor calms: it is as if nothing
 * had been read. After having been blind for longer than allowed the rule starts again.
 *
 * `closedSince` of a contact that was closed already when the rule first looked is set to that moment, so that a rule armed
 * on a running load ignores its first seconds as well. An unknown contact is taken as closed: to be blind must not mean to
 * be unprotected.
 */
export function stepCutOff(
  rule: CutOffRule,
  state: CutOffState,
  input: CutOffInput,
): { state: CutOffState; decision: CutOffDecision } {
  if (state.tripped) return { state, decision: { action: 'none', because: 'locked-out' } };
  const { now, closed } = input;
  if (closed === false) return { state: ARMED, decision: { action: 'none', because: 'open' } };
  const next = look(
    rule,
    { ...state, closedSince: state.closedSince ?? now, seen: state.seen ?? now },
    input,
  );
  return decide(rule, next, input);
}

/** What a reading changes: the excess under way, and since when the rule has been blind. */
function look(rule: CutOffRule, state: CutOffState, { now, reading }: CutOffInput): CutOffState {
  const blind = now - (state.seen as number) > rule.blindAfterMs;
  const before = blind ? { ...state, over: null } : state;
  if (!reading) return before;
  if (!isSeen(reading))
    return { ...before, lost: reading.v !== null && isUsable(reading.q) ? 'implausible' : 'blind' };
  const seen = { ...before, seen: now, lost: null };
  const value = rule.magnitude ? Math.abs(reading.v as number) : (reading.v as number);
  // At the end of its range it is at least that much, in its own direction: what flows out is above no limit of what is taken.
  const above = value > rule.limit || (reading.q === QUALITY.saturated && value > 0);
  if (!above || inrushLeft(rule, state, now) > 0) return { ...seen, over: null };
  return {
    ...seen,
    over: { since: before.over?.since ?? now, value, t: reading.t },
  };
}

function decide(
  rule: CutOffRule,
  state: CutOffState,
  { now, t }: CutOffInput,
): { state: CutOffState; decision: CutOffDecision } {
  const none = (decision: CutOffDecision) => ({ state, decision });
  const dark = now - (state.seen as number);
  if (dark > rule.blindAfterMs) {
    if (!rule.openWhenBlind) return none({ action: 'none', because: 'blind', long: true });
    return trip(state, { at: t, value: null });
  }
  const { over, lost } = state;
  if (over) {
    const remainingMs = over.since + rule.delayMs - now;
    if (remainingMs <= 0) return trip(state, { at: over.t, value: over.value });
    return none({ action: 'none', because: 'waiting', remainingMs });
  }
  if (lost === 'implausible') return none({ action: 'none', because: lost });
  if (lost || dark > rule.holdMs) return none({ action: 'none', because: 'blind', long: false });
  const surge = inrushLeft(rule, state, now);
  if (surge > 0) return none({ action: 'none', because: 'inrush', remainingMs: surge });
  return none({ action: 'none', because: 'below' });
}

const trip = (state: CutOffState, { at, value }: { at: number; value: number | null }) => ({
  state: { ...state, tripped: { at, value }, over: null },
  decision: { action: 'trip', value } as const,
});

const inrushLeft = (rule: CutOffRule, { closedSince }: CutOffState, now: number): number =>
  (closedSince ?? now) + rule.ignoreAfterOnMs - now;

/** Whether a reading tells anything. What is at the end of its sensor's range tells that it is at least that. */
const isSeen = (reading: CutOffReading | null): boolean =>
  reading !== null && reading.v !== null && (counts(reading.q) || reading.q === QUALITY.saturated);

/** The state after a person has restored the rule. */
export const restoreCutOff = (): CutOffState => ARMED;

/** Whether two decisions read the same on a screen; the seconds that are left are counted there. */
export function sameDecision(a: CutOffDecision | null, b: CutOffDecision): boolean {
  if (a?.action !== b.action || a.action === 'trip' || b.action === 'trip') return a?.action === b.action;
  return a.because === b.because && ('long' in a ? a.long : null) === ('long' in b ? b.long : null);
}
