import { Inject, Injectable, Logger, OnModuleDestroy, OnModuleInit } from '@nestjs/common';
import mysql from 'mysql2/promise';
import { BehaviorSubject, filter, map, switchMap, timer, type Observable } from 'rxjs';
import { CONFIG, type Config } from '../config.js';
import { withPatience } from './patience.js';

const LOOK_EVERY = 1000;
/** A database that does not answer a question of nothing within this time, ms, is away. */
const PATIENCE = 1500;
/** So long somebody who asks is kept waiting by a database that is away, ms: what needs none has been answered by then. */
const GRACE = 500;

/**
 * Looks whether the database answers, over a connection of its own: the others may all be waiting for it. Those who ask
 * something meanwhile are told so, and not kept waiting until it times out.
 */
@Injectable()
export class DatabaseWatch implements OnModuleInit, OnModuleDestroy {
  private readonly log = new Logger('database');
  private readonly fault = new BehaviorSubject<string | null>(null);
  private connection: mysql.Connection | null = null;
  private timer: NodeJS.Timeout | null = null;
  private looking = false;

  constructor(@Inject(CONFIG) private readonly config: Config) {}

  onModuleInit(): void {
    this.timer = setInterval(() => void this.look(), LOOK_EVERY);
  }

  onModuleDestroy(): void {
    if (this.timer) clearInterval(this.timer);
    this.connection?.destroy();
  }

  /** What is the matter with the database; null while it answers. */
  get matter(): string | null {
    return this.fault.value;
  }

  /** Emits what is the matter when the database has been away for a moment, and nothing while it answers. */
  readonly away: Observable<string> = this.fault.pipe(
    switchMap((words) => timer(words === null ? 0 : GRACE).pipe(map(() => words))),
    filter((words): words is string => words !== null),
  );

  private async look(): Promise<void> {
    if (this.looking) return;
    this.looking = true;
    try {
      await withPatience(this.ask(), PATIENCE, `it has not answered for ${PATIENCE / 1000} s`);
      if (this.fault.value !== null) this.log.warn('the database answers again');
      if (this.fault.value !== null) this.fault.next(null);
    } catch (error) {
      this.connection?.destroy();
      this.connection = null;
      const { message } = error as Error;
      if (this.fault.value === null) this.log.warn(`the database is away: ${message}`);
      if (this.fault.value !== message) this.fault.next(message);
    } finally {
      this.looking = false;
    }
  }

  private async ask(): Promise<void> {
    const { host, port, user, password, name } = this.config.database;
    if (!this.connection) {
      const made = await mysql.createConnection({
        host,
        port,
        user,
        password,
        database: name,
        connectTimeout: PATIENCE,
      });
      // A connection that is lost says so at the next question.
      made.on('error', () => undefined);
      this.connection = made;
    }
    await this.connection.query('DO 0');
  }
}
