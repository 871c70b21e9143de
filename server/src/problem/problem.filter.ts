import { ArgumentsHost, Catch, ExceptionFilter, HttpException, Logger } from '@nestjs/common';
import type { Response } from 'express';
import { STATUS_CODES } from 'node:http';
import { isDatabaseAway } from '../database/away.js';
import { ChangedMeanwhile, Problem, RestsOnIt } from './errors.js';

/** Ends every error of a request as application/problem+json; what was not foreseen is logged and told without inside. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  private readonly log = new Logger('problem');

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>();
    if (response.headersSent) {
      this.log.error(error);
      // What was begun and cannot be ended must not look whole: a download breaks off.
      response.destroy();
      return;
    }
    const status = statusOf(error);
    if (status >= 500 && !(error instanceof Problem))
      this.log.error(error instanceof Error ? error.stack : error);
    response
      .status(status)
      .type('application/problem+json')
      .send(
        JSON.stringify({
          type: error instanceof Problem ? `urn:loka:problem:${error.code}` : 'about:blank',
          title: STATUS_CODES[status] ?? 'Error',
          status,
          detail: detailOf(error),
          ...(error instanceof RestsOnIt ? { dependents: error.dependents } : {}),
          ...(error instanceof ChangedMeanwhile ? { version: error.version, now: error.now } : {}),
          ...(error instanceof Problem && error.faults.length > 0 ? { errors: error.faults } : {}),
        }),
      );
  }
}

const statusOf = (error: unknown): number =>
  error instanceof HttpException ? error.getStatus() : isDatabaseAway(error) ? 503 : 500;

function detailOf(error: unknown): string {
  if (error instanceof Problem) return error.detail;
  if (error instanceof HttpException) {
    // What the framework refuses before a handler sees it: broken JSON, a path parameter that is no number.
    if (error.getStatus() === 413) return 'That is too large: at most 1 MB, and 50 000 values, at once.';
    if (error.getStatus() === 400) return `The request could not be understood: ${error.message}.`;
    return error.message;
  }
  return isDatabaseAway(error)
    ? 'The database does not answer. Readings go on into the spool and nothing is lost; try again in a moment.'
    : 'Something failed in the server; see its log.';
}
