import { Inject, Injectable, Logger, OnModuleDestroy, OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { join } from 'node:path';
import { DataSource, type ObjectLiteral } from 'typeorm';
import { CONFIG, type Config } from '../config.js';
import { isDatabaseAway } from './away.js';
import { EventFile } from './eventFile.js';

const TRY_AGAIN = 1500;

/** Something that has happened, as a row to be written. Written twice, it is there once. */
export interface Happening {
  /** In words, for the log. */
  what: string;
  table: 'alerts' | 'switch_operations' | 'cut_off_rules' | 'audit' | 'fast_looks';
  /** `save` puts the row in the place of what has its id, `update` changes the columns it names, `add` is for rows that get an id. */
  how: 'save' | 'update' | 'add';
  row: { id?: number | string } & Record<string, unknown>;
}

/**
 * Writes what has happened (alerts, trips, switch operations, changes of the site) in order, and goes on trying while the
 * database is away: an alert must be raised and a switch must open whether or not it can be written down at once. What
 * waits lies in a file as well, so that a kill loses nothing of it; what an earlier run has left is written before
 * anything is controlled.
 */
@Injectable()
export class EventWriter implements OnModuleInit, OnModuleDestroy {
  private readonly log = new Logger('events');
  private readonly file: EventFile<Happening>;
  private readonly waiting: Happening[] = [];
  /** What is not in the file yet. */
  private unfiled: Happening[] = [];
  private filing: Promise<void> | null = null;
  private working: Promise<void> | null = null;
  /** Events that only memory holds, because the disk did not take them. */
  private lost = 0;
  private stopping = false;
  private away = false;
  private onIdle: (() => void)[] = [];

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    @Inject(CONFIG) config: Pick<Config, 'dataFolder'>,
  ) {
    this.file = new EventFile(join(config.dataFolder, 'events.ndjson'));
  }

  async onModuleInit(): Promise<void> {
    const left = await this.file.read();
    for (const happening of left) await this.put(happening);
    await this.file.clear();
    if (left.length > 0) this.log.log(`${left.length} events of an earlier run written down`);
  }

  write(happening: Happening): void {
    // What is changed later is another event.
    const own = { ...happening, row: { ...happening.row } };
    this.waiting.push(own);
    this.unfiled.push(own);
    this.filing ??= this.putOnDisk().finally(() => (this.filing = null));
    this.working ??= this.work().finally(() => (this.working = null));
  }

  /** How many events wait for the database, and how many of those are not on disk either. */
  status(): { waiting: number; notOnDisk: number } {
    return { waiting: this.waiting.length, notOnDisk: this.away ? this.lost : 0 };
  }

  /** Resolves when everything is written, or as soon as the database turns out to be away. */
  async idle(): Promise<void> {
    if (this.waiting.length === 0 || this.away) return;
    await new Promise<void>((resolve) => this.onIdle.push(resolve));
  }

  async onModuleDestroy(): Promise<void> {
    this.stopping = true;
    await this.filing;
    await this.working;
  }

  private async putOnDisk(): Promise<void> {
    while (this.unfiled.length > 0) {
      const batch = this.unfiled;
      this.unfiled = [];
      try {
        await this.file.append(batch);
      } catch (error) {
        this.lost += batch.length;
        this.log.error(`not on disk (${(error as Error).message}): ${batch.map((h) => h.what).join('; ')}`);
      }
    }
  }

  private async work(): Promise<void> {
    while (this.waiting.length > 0) {
      const happening = this.waiting[0] as Happening;
      try {
        await this.put(happening);
        this.away = false;
        this.waiting.shift();
      } catch (error) {
        this.away = true;
        this.log.warn(`waits for the database (${(error as Error).message}): ${happening.what}`);
        this.tellIdle();
        if (this.stopping) return;
        await new Promise((resolve) => setTimeout(resolve, TRY_AGAIN));
      }
      if (this.waiting.length === 0) await this.clearFile();
    }
    this.tellIdle();
  }

  /** Everything in the file is in the database too. */
  private async clearFile(): Promise<void> {
    await this.filing;
    if (this.waiting.length > 0) return;
    this.lost = 0;
    await this.file.clear().catch((error: Error) => this.log.error(`the file stays: ${error.message}`));
  }

  /** @throws where the database is away; what it refuses is told, and gone */
  private async put({ what, table, how, row }: Happening): Promise<void> {
    try {
      const rows = this.db.getRepository<ObjectLiteral>(table);
      if (how === 'save') await rows.save(row);
      else if (how === 'update') await rows.update(row.id as number, row);
      else if (!(await rows.existsBy(identityOf(row)))) await rows.insert(row);
    } catch (error) {
      if (isDatabaseAway(error)) throw error;
      this.log.error(`could not be written down: ${what}: ${(error as Error).message}`);
    }
  }

  private tellIdle(): void {
    for (const tell of this.onIdle.splice(0)) tell();
  }
}

/** What tells a row without an id from another: all of it that is not an object. */
const identityOf = (row: Happening['row']) =>
  Object.fromEntries(Object.entries(row).filter(([, value]) => typeof value !== 'object'));
