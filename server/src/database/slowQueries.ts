import { Logger } from '@nestjs/common';
import type { Logger as DatabaseLogger } from 'typeorm';

/** Tells of queries that ran into their time-out, by their first words: what they carry is not for a log. */
export class SlowQueries implements DatabaseLogger {
  private readonly log_ = new Logger('database');

  logQuerySlow(ms: number, query: string): void {
    this.log_.warn(`gave up after ${Math.round(ms)} ms: ${query.slice(0, 60)}`);
  }
  logQuery(): void {}
  logQueryError(): void {}
  logSchemaBuild(): void {}
  logMigration(): void {}
  log(): void {}
}
