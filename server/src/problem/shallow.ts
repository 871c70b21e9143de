import type { NextFunction, Request, Response } from 'express';

/** Nothing that is asked for lies deeper; what does would end in a fault of everything that looks through it. */
const DEEPEST = 40;

/** Whether a value from JSON lies at most so many levels deep. Looks without calling itself: the value may be of any depth. */
export function isShallow(value: unknown, deepest = DEEPEST): boolean {
  let level: unknown[] = [value];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > deepest) return false;
    level = level.flatMap((v) => (typeof v === 'object' && v !== null ? Object.values(v) : []));
  }
  return true;
}

/** Refuses a body that is nested beyond reason. */
export function shallowBodies(request: Request, response: Response, next: NextFunction): void {
  if (isShallow(request.body)) return next();
  response
    .status(400)
    .type('application/problem+json')
    .send(
      JSON.stringify({
        type: 'about:blank',
        title: 'Bad Request',
        status: 400,
        detail: `The request could not be understood: it is nested more than ${DEEPEST} levels deep.`,
      }),
    );
}
