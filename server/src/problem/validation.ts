import { ValidationError, ValidationPipe } from '@nestjs/common';
import type { ValidatorOptions } from 'class-validator';
import { setImmediate } from 'node:timers/promises';
import { invalid, type FieldFault } from './errors.js';

/** Nest's pipe, with a turn for whoever else waits between making objects of what came and validating them. */
class PolitePipe extends ValidationPipe {
  protected override async validate(object: object, options?: ValidatorOptions) {
    await setImmediate();
    return super.validate(object, options);
  }
}

/** Validates what comes in with the contract's classes; the faults carry the path of the field. */
export const validation = (): ValidationPipe =>
  new PolitePipe({
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
