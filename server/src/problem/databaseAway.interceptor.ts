import { CallHandler, ExecutionContext, Injectable, NestInterceptor } from '@nestjs/common';
import { Observable, take } from 'rxjs';
import { DatabaseWatch } from '../database/databaseWatch.js';
import { Problem } from './errors.js';

/** Routes that need no database, or say of it themselves how it is: a switch may take its time, and opens anyway. */
const BY_THEMSELVES = /^\/api\/(health|live|push|switches\/\d+\/operate|cut-off-rules\/\d+\/restore)\b/;

/** Answers who waits for a database that is away: after a moment, and in words, not after its time-out. */
@Injectable()
export class DatabaseAwayInterceptor implements NestInterceptor {
  constructor(private readonly watch: DatabaseWatch) {}

  intercept(context: ExecutionContext, next: CallHandler): Observable<unknown> {
    const { originalUrl, method } = context
      .switchToHttp()
      .getRequest<{ originalUrl: string; method: string }>();
    if (BY_THEMSELVES.test(originalUrl)) return next.handle();
    return new Observable((subscriber) => {
      const waiting = this.watch.away
        .pipe(take(1))
        .subscribe((matter) =>
          subscriber.error(
            new Problem(
              'database-away',
              `The database does not answer (${matter}). Readings go on into the spool and nothing is lost. ${
                method === 'GET'
                  ? 'Try again in a moment.'
                  : 'Whether this has been done is not known: look before you try it again.'
              }`,
            ),
          ),
        );
      // It is not given up: what is carried out later anyway has to be written down.
      next.handle().subscribe({
        next: (value) => subscriber.next(value),
        error: (error) => subscriber.error(error),
        complete: () => subscriber.complete(),
      });
      return () => waiting.unsubscribe();
    });
  }
}
