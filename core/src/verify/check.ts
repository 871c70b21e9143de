/** What a check comes to. */
export type CheckVerdict = 'pass' | 'fail' | 'cannot-tell';

export const CHECK_KINDS = [
  'supply',
  'settings',
  'alive',
  'zero',
  'standby',
  'output',
  'through',
  'phases',
  'ratio',
  'clipped',
  'counter',
  'parts',
  'beside',
  'dc',
  'inputs',
] as const;
export type CheckKind = (typeof CHECK_KINDS)[number];

/** One line of the checklist: what is so, the numbers it depends on, and what to do. */
export interface Check {
  kind: CheckKind;
  verdict: CheckVerdict;
  /** What is so, as a sentence. */
  says: string;
  /** The numbers it depends on; '' with none. */
  rests: string;
  /** The likely cause of a failure; '' with none. */
  cause: string;
  /** What to do about it, or what would let Loka tell; '' with nothing. */
  todo: string;
}

export const pass = (kind: CheckKind, says: string, rests = ''): Check => ({
  kind,
  verdict: 'pass',
  says,
  rests,
  cause: '',
  todo: '',
});

export const fail = (kind: CheckKind, says: string, rests: string, cause: string, todo: string): Check => ({
  kind,
  verdict: 'fail',
  says,
  rests,
  cause,
  todo,
});

/** @param todo what would let Loka tell */
export const cannotTell = (kind: CheckKind, says: string, todo: string, rests = ''): Check => ({
  kind,
  verdict: 'cannot-tell',
  says,
  rests,
  cause: '',
  todo,
});

/**
 * Whether checks prove a wiring right: nothing fails, and a load has been seen to go through, or the ratio to be right; where
 * nothing but a DC side is measured, that this one is.
 */
export function isProven(checks: readonly Check[]): boolean {
  const passes = (kind: CheckKind) => checks.some((c) => c.kind === kind && c.verdict === 'pass');
  if (checks.some((c) => c.verdict === 'fail')) return false;
  return passes('through') || passes('ratio') || (passes('dc') && !checks.some((c) => c.kind === 'alive'));
}
