import { HttpException } from '@nestjs/common';

export interface FieldFault {
  field: string;
  message: string;
}

/** A request that cannot be done, told as RFC 9457 problem details; faults name the field where they were typed. */
export class Problem extends HttpException {
  constructor(
    status: number,
    readonly code: string,
    readonly detail: string,
    readonly faults: FieldFault[] = [],
  ) {
    super(detail, status);
  }
}

export const notFound = (what: string, id: unknown): Problem =>
  new Problem(404, 'not-found', `There is no ${what} ${String(id)}.`);

export const conflict = (code: string, detail: string, faults: FieldFault[] = []): Problem =>
  new Problem(409, code, detail, faults);

export const invalid = (detail: string, faults: FieldFault[] = []): Problem =>
  new Problem(422, 'invalid', detail, faults);

/** Something that a field says is wrong, alone. */
export const invalidField = (field: string, message: string): Problem =>
  invalid(message, [{ field, message }]);
