import { CallHandler, ExecutionContext, Injectable, NestInterceptor } from '@nestjs/common';
import type { Request } from 'express';
import { tap, type Observable } from 'rxjs';
import { EventWriter } from '../database/eventWriter.js';
import { LOCAL_PERSON } from './person.js';
import { Removed } from './removed.js';

/** Requests that change nothing although they are not GET. */
const READS = [
  /^\/api\/devices\/(trial-read|read-words|which-moves)$/,
  /^\/api\/settings\/\d+\/read$/,
  /^\/api\/links\/test$/,
  /^\/api\/searches\/recognise$/,
  /^\/api\/calibrations\/preview$/,
  /^\/api\/register-maps\/\d+\/impact$/,
  /^\/api\/profile\/\d+\/what-if$/,
  // Readings that devices post are no change of the site.
  /^\/api\/push\//,
];

/**
 * What was sent, without passwords: those are not for a log. What is drawn (dashboards, plans) is sent whole with each
 * stroke; that it was changed is written down, how it was is kept beside it.
 */
const forLog = (body: unknown): unknown => {
  if (typeof body !== 'object' || body === null) return body ?? {};
  const left: Record<string, string> = {};
  for (const key of ['password', 'content']) if (key in body) left[key] = '…';
  return { ...body, ...left };
};

/** Writes down everything that has changed the site or a switch. */
@Injectable()
export class AuditInterceptor implements NestInterceptor {
  constructor(
    private readonly writer: EventWriter,
    private readonly removed: Removed,
  ) {}

  async intercept(context: ExecutionContext, next: CallHandler): Promise<Observable<unknown>> {
    const request = context.switchToHttp().getRequest<Request>();
    const path = request.originalUrl.split('?')[0] as string;
    if (request.method === 'GET' || READS.some((pattern) => pattern.test(path))) return next.handle();
    const name = await this.removed.nameOf(request.method, path);
    return next.handle().pipe(
      tap(() => {
        const entry = {
          at: Date.now(),
          who: LOCAL_PERSON,
          action: request.method,
          subject: path.slice(0, 200),
          detail: forLog(request.body),
          name,
        };
        // The act itself is done, and nobody waits for its being written down.
        this.writer.write({
          what: `${entry.action} ${entry.subject}`,
          table: 'audit',
          how: 'add',
          row: entry,
        });
      }),
    );
  }
}
