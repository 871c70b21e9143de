import type { EnergyReport, KeepReportInput, KeptReport } from '@loka/contract/report';
import { fixedText, monthsAfter, periodSpan, textOfUnit } from '@loka/core/time';
import { Injectable, Logger, type OnApplicationBootstrap, type OnModuleDestroy } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { IsNull, Not, Repository } from 'typeorm';
import { InstallationBook } from '../book/installationBook.js';
import { isDatabaseAway } from '../database/away.js';
import { JobsService } from '../jobs/jobs.service.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { notFound } from '../problem/errors.js';
import { PlacePower } from '../profile/placePower.js';
import { SiteService } from '../site/site.service.js';
import { KeptReportEntity } from './keptReport.entity.js';
import { ReportService } from './report.service.js';

const LOOK_EVERY = 600_000;
/** What comes a little late is waited for, ms after the end of the month. */
const LATE = 600_000;
/** So many months are made up for where Loka did not run. */
const MONTHS_BACK = 12;
const LISTED = 200;

/** Reports as they were made: those that somebody keeps, and one of each month by itself. */
@Injectable()
export class KeptReportsService implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly log = new Logger('reports');
  private timer: NodeJS.Timeout | null = null;
  private looking: Promise<void> = Promise.resolve();
  private stopping = false;

  constructor(
    @InjectRepository(KeptReportEntity) private readonly rows: Repository<KeptReportEntity>,
    private readonly reports: ReportService,
    private readonly sites: SiteService,
    private readonly tree: InstallationBook,
    private readonly power: PlacePower,
    private readonly jobs: JobsService,
    private readonly changes: ChangeFeed,
  ) {}

  onApplicationBootstrap(): void {
    const look = () => {
      this.looking = this.looking
        .then(() => this.makeMonths(Date.now()))
        .catch((error: Error) => {
          // The next look is soon enough; of a database that is away others tell.
          if (!isDatabaseAway(error)) this.log.error(`the report of a month was not made: ${error.message}`);
        });
    };
    look();
    this.timer = setInterval(look, LOOK_EVERY);
  }

  async onModuleDestroy(): Promise<void> {
    this.stopping = true;
    if (this.timer) clearInterval(this.timer);
    await this.looking;
  }

  /** Newest first, without what is in them. */
  async list(): Promise<KeptReport[]> {
    const rows = await this.rows.find({
      where: { removedAt: IsNull() },
      order: { to: 'DESC', id: 'DESC' },
      take: LISTED,
    });
    return rows.map(({ monthly: _monthly, removedAt: _removed, ...report }) => report);
  }

  /** @throws Problem where it is not there, or was taken away */
  async read(id: number): Promise<EnergyReport> {
    const row = await this.rows.findOne({
      where: { id, removedAt: IsNull() },
      select: { id: true, content: true as never },
    });
    if (!row) throw notFound('report', id);
    return row.content;
  }

  /** Keeps the report of a place and a period as it is now. @throws Problem as {@link ReportService.of} */
  async keep({ nodeId, period }: KeepReportInput, who: string): Promise<KeptReport> {
    const now = Date.now();
    const { timeZone } = await this.sites.require();
    // What moves on with the clock is kept as the days that it is now.
    const content = await this.reports.of(nodeId, period, now);
    const fixed = fixedText(timeZone, period, now);
    return this.save({ ...content, period: fixed }, who, null);
  }

  /** @throws Problem where it is not there */
  async remove(id: number): Promise<void> {
    await this.mark(id, true);
  }

  /** Brings back what was removed. @throws Problem where it is not there */
  async restore(id: number): Promise<void> {
    await this.mark(id, false);
  }

  /** Makes the report of every month that is over, of which there is none yet and something was read. */
  async makeMonths(now: number): Promise<void> {
    // What is being recalculated, or read in, is not told half way; the next look is soon enough.
    if (this.jobs.list().some((job) => job.state === 'running')) return;
    const site = await this.sites.get();
    const root = this.tree.all().find((n) => n.kind === 'supply');
    if (!site || !root || !this.power.isMeasured(root.id)) return;
    const firstAt = await this.power.firstAt(root.id);
    if (firstAt === null) return;
    for (let back = MONTHS_BACK; back >= 1; back--) {
      if (this.stopping) return;
      const month = textOfUnit(site.timeZone, monthsAfter(site.timeZone, now, -back), 'month');
      const { end } = periodSpan(site.timeZone, month, now);
      if (end <= firstAt || now < end + LATE) continue;
      if (await this.rows.existsBy({ monthly: month })) continue;
      const content = await this.reports.of(root.id, month, now);
      if (content.profile.known <= 0) continue;
      await this.save(content, null, month);
      this.log.log(`the report of ${month} was made`);
    }
  }

  private async save(content: EnergyReport, who: string | null, monthly: string | null): Promise<KeptReport> {
    const { nodeId, place, period, from, to, madeAt } = content;
    const row = { nodeId, place, period, from, to, madeAt, who };
    const { identifiers } = await this.rows.insert({
      ...row,
      monthly,
      removedAt: null,
      content: content as never,
    });
    this.changes.say('reports');
    return { id: (identifiers[0] as { id: number }).id, ...row };
  }

  private async mark(id: number, away: boolean): Promise<void> {
    const { affected } = await this.rows.update(
      { id, removedAt: away ? IsNull() : Not(IsNull()) },
      { removedAt: away ? Date.now() : null },
    );
    if (!affected) throw notFound('report', id);
    this.changes.say('reports');
  }
}
