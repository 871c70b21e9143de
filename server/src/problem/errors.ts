import type { Dependent } from '@loka/contract/dependents';
import { HttpException } from '@nestjs/common';

/** Every way in which a request can fail that was foreseen, with its status. A code stands for one of them and stays. */
export const PROBLEM_STATUS = {
  /** The path itself is not readable. */
  'bad-path': 400,
  /** The door wants the token of its link. */
  'no-token': 401,
  /** What it names is not there. */
  'not-found': 404,
  /** Somebody else has changed it since it was read. */
  'changed-meanwhile': 409,
  /** Entered already. */
  exchanged: 409,
  /** Something depends on it. */
  'has-rule': 409,
  'has-switch': 409,
  'in-use': 409,
  /** Switches, cut-offs, alerts or virtual meters depend on it; to be said that it goes anyway. */
  'rests-on-it': 409,
  'link-in-use': 409,
  'map-in-use': 409,
  'not-empty': 409,
  /** It has no address that could be another. */
  'no-address': 409,
  'link-off': 409,
  /** A cut-off holds the switch open. */
  'locked-out': 409,
  tripped: 409,
  'not-tripped': 409,
  'not-newest': 409,
  /** One step test at a place at a time; none; nothing found in it yet; no relay for it. */
  'test-under-way': 409,
  /** One fast look on a link at a time; none at this place; its device cannot be asked. */
  'look-under-way': 409,
  'no-look': 409,
  'reports-by-itself': 409,
  'no-test': 409,
  'nothing-found': 409,
  'no-relay': 409,
  /** Nothing measures the place. */
  'nothing-measured': 409,
  /** What was read wrongly has been decided on; or its transducer was changed meanwhile. */
  'done-already': 409,
  /** A correction would reach back over a change of what it was found on; to be said that it does anyway. */
  'across-change': 409,
  'changed-between': 409,
  /** It looks odd; to be said that it is meant. */
  doubtful: 409,
  'no-site': 409,
  /** Only a link by which somebody pushes has a token. */
  'no-push-link': 409,
  /** Nothing is published on such a link. */
  'no-topics': 409,
  /** One search at a time. */
  searching: 409,
  /** What was sent does not hold; the faults name the fields. */
  invalid: 422,
  /** Nobody knows whether it was done; what is read is kept on disk. */
  'database-away': 503,
  /** What was pushed could not be kept yet. */
  'not-kept': 503,
  /** The device or the link did not do it, and says why. */
  'link-fault': 422,
  'no-meter': 422,
  'no-registers': 422,
  'no-sunspec': 422,
  'not-understood': 422,
  'not-writable': 422,
} as const satisfies Record<string, number>;
export type ProblemCode = keyof typeof PROBLEM_STATUS;

export interface FieldFault {
  field: string;
  message: string;
}

/** A request that cannot be done, told as RFC 9457 problem details; faults name the field where they were typed. */
export class Problem extends HttpException {
  override name = 'Problem';
  constructor(
    readonly code: ProblemCode,
    readonly detail: string,
    readonly faults: readonly FieldFault[] = [],
  ) {
    super(detail, PROBLEM_STATUS[code]);
  }
}

/** Somebody else has changed it since it was read; carries what is there now, under the names of what was sent. */
export class ChangedMeanwhile extends Problem {
  constructor(
    what: string,
    readonly version: number,
    readonly now: Record<string, unknown>,
  ) {
    super(
      'changed-meanwhile',
      `Someone else has changed this ${what} since you opened it. Nothing was overwritten.`,
    );
  }
}

/** Something depends on what is to be removed; to be said that it goes anyway. */
export class RestsOnIt extends Problem {
  constructor(readonly dependents: readonly Dependent[]) {
    super(
      'rests-on-it',
      `Without it these no longer work: ${dependents.map((d) => `${d.kind} “${d.name}” (${d.does})`).join('; ')}.`,
    );
  }
}

export const notFound = (what: string, id: unknown): Problem =>
  new Problem('not-found', `There is no ${what} ${String(id)}.`);

export const invalid = (detail: string, faults: readonly FieldFault[] = []): Problem =>
  new Problem('invalid', detail, faults);

/** Something that a field says is wrong, alone. */
export const invalidField = (field: string, message: string): Problem =>
  invalid(message, [{ field, message }]);
