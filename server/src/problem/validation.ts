import { ValidationError, ValidationPipe } from '@nestjs/common';
import { invalid, type FieldFault } from './errors.js';

/** Validates what comes in with the contract's classes; the faults carry the path of the field. */
export const validation = (): ValidationPipe =>
  new ValidationPipe({
    transform: true,
    whitelist: true,
    forbidNonWhitelisted: true,
    exceptionFactory: (errors) => {
      const faults = flatten(errors, '');
      return invalid(
        faults.length === 1
          ? (faults[0] as FieldFault).message
          : `${faults.length} fields need another look.`,
        faults,
      );
    },
  });

function flatten(errors: ValidationError[], path: string): FieldFault[] {
  return errors.flatMap((error) => {
    const field = path ? `${path}.${error.property}` : error.property;
    // The most specific message: class-validator lists the constraints from the last decorator to the first.
    const message = Object.values(error.constraints ?? {}).at(-1);
    return [...(message ? [{ field, message }] : []), ...flatten(error.children ?? [], field)];
  });
}
