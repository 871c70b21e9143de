import { CallHandler, ExecutionContext, Injectable, Logger, NestInterceptor } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import type { Request } from 'express';
import { mergeMap, type Observable } from 'rxjs';
import { Repository } from 'typeorm';
import { AuditEntryEntity } from './auditEntry.entity.js';
import { LOCAL_PERSON } from './person.js';

/** Requests that change nothing although they are not GET. */
const READS = [
  /^\/api\/devices\/(trial-read|read-words|which-moves)$/,
  /^\/api\/links\/test$/,
  /^\/api\/register-maps\/\d+\/impact$/,
  // Readings that devices post are no change of the site.
  /^\/api\/push\//,
];

/** What was sent, without passwords: those are not for a log. */
const withoutSecrets = (body: unknown): unknown =>
  typeof body === 'object' && body !== null && 'password' in body ? { ...body, password: '…' } : (body ?? {});

/** Writes down everything that has changed the site or a switch. */
@Injectable()
export class AuditInterceptor implements NestInterceptor {
  private readonly log = new Logger('audit');

  constructor(@InjectRepository(AuditEntryEntity) private readonly entries: Repository<AuditEntryEntity>) {}

  intercept(context: ExecutionContext, next: CallHandler): Observable<unknown> {
    const request = context.switchToHttp().getRequest<Request>();
    const path = request.originalUrl.split('?')[0] as string;
    if (request.method === 'GET' || READS.some((pattern) => pattern.test(path))) return next.handle();
    return next.handle().pipe(
      mergeMap(async (result: unknown) => {
        const entry = {
          at: Date.now(),
          who: LOCAL_PERSON,
          action: request.method,
          subject: path.slice(0, 200),
          detail: withoutSecrets(request.body),
        };
        try {
          await this.entries.insert(entry as never);
        } catch (error) {
          // The act itself is done; a switch must open even while the database is away. It is told in the log instead.
          this.log.error(`not in the audit log (${(error as Error).message}): ${JSON.stringify(entry)}`);
        }
        return result;
      }),
    );
  }
}
