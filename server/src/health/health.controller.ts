import type { HealthReport } from '@loka/contract/health';
import { Controller, Get } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { InjectDataSource } from '@nestjs/typeorm';
import { readFileSync } from 'node:fs';
import { DataSource } from 'typeorm';
import { AcquisitionHealth } from '../devices/acquisitionHealth.js';
import { LinksService } from '../devices/links.service.js';
import { SampleStore } from '../series/sampleStore.js';

const { version } = JSON.parse(readFileSync(new URL('../../package.json', import.meta.url), 'utf8')) as {
  version: string;
};

@ApiTags('health')
@Controller('health')
export class HealthController {
  private readonly startedAt = Date.now();
  private links: HealthReport['links'] = [];

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly linksOf: LinksService,
    private readonly health: AcquisitionHealth,
    private readonly store: SampleStore,
  ) {}

  /** How Loka itself fares. Answers while the database is away, too, with the links as last known. */
  @Get()
  async report(): Promise<HealthReport> {
    const { perSecond, stored, repeated, moved, waiting, spool, refused } = this.store.status();
    return {
      version,
      startedAt: this.startedAt,
      database: await this.database(),
      links: this.links,
      samples: { perSecond, stored, repeated, moved, waiting },
      spool,
      refused,
    };
  }

  private async database(): Promise<HealthReport['database']> {
    try {
      await this.db.query('SELECT 1');
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
}
