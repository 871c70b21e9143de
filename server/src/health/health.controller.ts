import type { HealthReport, HealthState } from '@loka/contract/health';
import { Controller, Get, Inject, OnModuleDestroy, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { InjectDataSource } from '@nestjs/typeorm';
import type { Response } from 'express';
import { readFileSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import pTimeout from 'p-timeout';
import { DataSource } from 'typeorm';
import { ClockWatch } from '../acquisition/clockWatch.js';
import { CONFIG, type Config } from '../config.js';
import { EventWriter } from '../database/eventWriter.js';
import { AcquisitionHealth } from '../devices/acquisitionHealth.js';
import { LinksService } from '../devices/links.service.js';
import { SampleStore } from '../series/sampleStore.js';
import { mattersOf } from './matters.js';

const { version } = JSON.parse(readFileSync(new URL('../../package.json', import.meta.url), 'utf8')) as {
  version: string;
};

/** A database that does not answer within this time, ms, is away: whoever asks for the health is not kept waiting. */
const PATIENCE = 2000;
const LOOP_WINDOW = 60_000;

@ApiTags('health')
@Controller('health')
export class HealthController implements OnModuleDestroy {
  private readonly startedAt = Date.now();
  private links: HealthReport['links'] = [];
  private readonly loop = monitorEventLoopDelay({ resolution: 20 });
  private readonly timer = setInterval(() => this.loop.reset(), LOOP_WINDOW).unref();

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    @Inject(CONFIG) private readonly config: Config,
    private readonly linksOf: LinksService,
    private readonly health: AcquisitionHealth,
    private readonly store: SampleStore,
    private readonly writer: EventWriter,
    private readonly clock: ClockWatch,
  ) {
    this.loop.enable();
  }

  onModuleDestroy(): void {
    this.loop.disable();
    clearInterval(this.timer);
  }

  /** How Loka itself fares. Answers while the database is away, too, with the links as last known. */
  @Get()
  async report(): Promise<HealthReport> {
    const { perSecond, stored, repeated, moved, waiting, unkept, spool, refused } = this.store.status();
    const known = {
      version,
      startedAt: this.startedAt,
      database: await this.database(),
      links: this.links,
      samples: { perSecond, stored, repeated, moved, waiting, unkept },
      spool,
      refused,
      events: this.writer.status(),
      disk: await this.disk(),
      clock: { lastJump: this.clock.lastJump },
      loopDelay: this.loopDelay(),
    };
    return { ...mattersOf(known, Date.now()), ...known };
  }

  /** For a load balancer: 200 while Loka does its work, 503 while it does not. */
  @Get('ready')
  async ready(@Res({ passthrough: true }) response: Response): Promise<{ state: HealthState }> {
    const { state } = await this.report();
    if (state === 'down') response.status(503);
    return { state };
  }

  private async database(): Promise<HealthReport['database']> {
    try {
      await pTimeout(this.db.query('SELECT 1'), {
        milliseconds: PATIENCE,
        message: `The database does not answer within ${PATIENCE / 1000} s.`,
      });
      this.links = (await this.linksOf.list()).map(({ id, name, health }) => ({
        id,
        name,
        state: health.state,
      }));
      return { up: true, message: null };
    } catch (error) {
      this.links = this.links.map((link) => ({ ...link, state: this.health.ofLink(link.id, true).state }));
      return { up: false, message: (error as Error).message };
    }
  }

  private async disk(): Promise<HealthReport['disk']> {
    try {
      const { bavail, blocks, bsize } = await statfs(this.config.dataFolder);
      return { freeBytes: bavail * bsize, totalBytes: blocks * bsize };
    } catch {
      // Reported as not known: the folder may be on a disk that is gone.
      return null;
    }
  }

  private loopDelay(): HealthReport['loopDelay'] {
    const ms = (ns: number) => (Number.isFinite(ns) ? Math.round(ns / 1e5) / 10 : 0);
    return {
      median: ms(this.loop.percentile(50)),
      p99: ms(this.loop.percentile(99)),
      max: ms(this.loop.max),
    };
  }
}
