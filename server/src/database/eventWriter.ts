import { Injectable, Logger, OnModuleDestroy } from '@nestjs/common';
import { isDatabaseAway } from './away.js';

const TRY_AGAIN = 1500;
const MOST = 10_000;

/**
 * Writes what happened (alerts, switch operations) in order, and goes on trying while the database is away: an
 * alert must be raised and a switch must open whether or not it can be written down at once. Waits in memory;
 * what is still waiting when the server stops is told in the log.
 */
@Injectable()
export class EventWriter implements OnModuleDestroy {
  private readonly log = new Logger('events');
  private readonly waiting: { what: string; write: () => Promise<unknown> }[] = [];
  private working: Promise<void> | null = null;
  private stopping = false;
  private away = false;
  private onIdle: (() => void)[] = [];

  write(what: string, write: () => Promise<unknown>): void {
    if (this.waiting.length >= MOST) this.log.error(`not written down, too much is waiting: ${what}`);
    else this.waiting.push({ what, write });
    this.working ??= this.work().finally(() => (this.working = null));
  }

  /** Resolves when everything is written, or as soon as the database turns out to be away. */
  async idle(): Promise<void> {
    if (this.waiting.length === 0 || this.away) return;
    await new Promise<void>((resolve) => this.onIdle.push(resolve));
  }

  async onModuleDestroy(): Promise<void> {
    this.stopping = true;
    await this.working;
    for (const { what } of this.waiting) this.log.error(`not written down before the stop: ${what}`);
  }

  private async work(): Promise<void> {
    while (this.waiting.length > 0) {
      const { what, write } = this.waiting[0] as (typeof this.waiting)[number];
      try {
        await write();
        this.away = false;
        this.waiting.shift();
      } catch (error) {
        if (!isDatabaseAway(error)) {
          this.log.error(`could not be written down: ${what}: ${(error as Error).message}`);
          this.waiting.shift();
        } else {
          this.away = true;
          this.tellIdle();
          if (this.stopping) return;
          await new Promise((resolve) => setTimeout(resolve, TRY_AGAIN));
        }
      }
    }
    this.tellIdle();
  }

  private tellIdle(): void {
    for (const tell of this.onIdle.splice(0)) tell();
  }
}
