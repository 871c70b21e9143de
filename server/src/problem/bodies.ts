import type { NextFunction, Request, Response } from 'express';

/** How large a value from JSON may be before anything looks through it: its depth, its longest list, all its parts. */
export interface BodyLimits {
  deepest: number;
  longest: number;
  most: number;
}

/**
 * Nothing that the screens send is larger (a map of 500 values with 2000 named states is not); what is would be
 * validated for seconds, part by part.
 */
export const BODY_LIMITS: BodyLimits = { deepest: 40, longest: 1000, most: 20_000 };
/** Devices send packs of many records; those are not validated by classes, and are taken in slices. */
const MOST_PARTS = 50_000;
const PUSH_LIMITS: BodyLimits = { deepest: 40, longest: 10_000, most: MOST_PARTS };
/** Members of an object; each one that is not known is told apart. */
const MOST_MEMBERS = 500;

/**
 * Words for why a value from JSON is not looked through; null when it may be.
 * Looks without calling itself: the value may be of any depth.
 */
export function beyondReason(value: unknown, { deepest, longest, most }: BodyLimits): string | null {
  let level: object[] = [{ value }];
  let parts = 0;
  for (let depth = -1; level.length > 0; depth++) {
    if (depth > deepest) return `it is nested more than ${deepest} levels deep`;
    const next: object[] = [];
    for (const holder of level) {
      const members = Object.values(holder) as unknown[];
      const isList = Array.isArray(holder);
      if (members.length > (isList ? longest : MOST_MEMBERS))
        return isList
          ? `it has a list of ${members.length}, and at most ${longest} are taken`
          : `it has ${members.length} members in one place, and at most ${MOST_MEMBERS} are taken`;
      parts += members.length;
      for (const member of members) if (typeof member === 'object' && member !== null) next.push(member);
    }
    if (parts > most) return `it has more than ${most} parts`;
    level = next;
  }
  return null;
}

/** Whether a text has more commas than a JSON of so many parts may have; such a one takes its time even to be parsed. */
export function hasMoreParts(text: string | Buffer, most: number): boolean {
  let commas = 0;
  for (let at = text.indexOf(','); at >= 0; at = text.indexOf(',', at + 1)) if (++commas > most) return true;
  return false;
}

/**
 * Refuses a body before it is parsed.
 * @throws Error with status 413, which body-parser hands on
 */
export function fewParts(_request: unknown, _response: unknown, body: Buffer): void {
  if (hasMoreParts(body, MOST_PARTS))
    throw Object.assign(new Error(`it has more than ${MOST_PARTS} parts`), { status: 413 });
}

/** Refuses a body that is beyond reason, before it is validated. */
export function reasonableBodies(request: Request, response: Response, next: NextFunction): void {
  const limits = request.path.startsWith('/api/push/') ? PUSH_LIMITS : BODY_LIMITS;
  const why = beyondReason(request.body, limits);
  if (!why) return next();
  response
    .status(400)
    .type('application/problem+json')
    .send(
      JSON.stringify({
        type: 'about:blank',
        title: 'Bad Request',
        status: 400,
        detail: `The request was refused: ${why}.`,
      }),
    );
}
