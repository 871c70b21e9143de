import type { DashboardInput } from '@loka/contract/dashboards';
import { tidied, type DashboardElement } from '@loka/core/dashboards';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository, type EntityManager } from 'typeorm';
import { changeVersioned } from '../book/versioned.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { invalidField, notFound } from '../problem/errors.js';
import { DashboardEntity } from './dashboard.entity.js';
import { DashboardVersionEntity } from './dashboardVersion.entity.js';

/** Saved as one goes, a dashboard changes every other second; what it was is kept no more often than this, ms. */
export const KEPT_EVERY = 5 * 60_000;
/** Earlier versions of one dashboard; the oldest go first. */
export const MOST_VERSIONS = 50;
/** More dashboards than that are not looked through by anybody. */
const MOST = 200;

const WHAT = { what: 'dashboard' };

/** Pages that people have made, and how they were before. */
@Injectable()
export class DashboardsService {
  constructor(
    @InjectRepository(DashboardEntity) private readonly rows: Repository<DashboardEntity>,
    @InjectRepository(DashboardVersionEntity) private readonly kept: Repository<DashboardVersionEntity>,
    private readonly changes: ChangeFeed,
  ) {}

  /** All, by name. */
  list(): Promise<DashboardEntity[]> {
    return this.rows.find({ order: { name: 'ASC', id: 'ASC' } });
  }

  /** @throws Problem not-found */
  async get(id: number): Promise<DashboardEntity> {
    const row = await this.rows.findOneBy({ id });
    if (!row) throw notFound('dashboard', id);
    return row;
  }

  async create(input: DashboardInput, who: string): Promise<DashboardEntity> {
    const { name, content } = checked(input);
    if ((await this.rows.count()) >= MOST)
      throw invalidField('name', `There are ${MOST} dashboards already; remove one first.`);
    const row = await this.rows.save({ name, content, version: 1, changedAt: Date.now(), who });
    this.changes.say('dashboards');
    return row;
  }

  /** @throws Problem not-found, ChangedMeanwhile */
  async change(id: number, input: DashboardInput, who: string): Promise<DashboardEntity> {
    return this.write(id, { ...checked(input), ...versionOf(input) }, who, KEPT_EVERY);
  }

  /** Makes it what it was; what it is now is kept as well. @throws Problem not-found, ChangedMeanwhile */
  async restore(id: number, versionId: number, version: number, who: string): Promise<DashboardEntity> {
    const then = await this.kept.findOneBy({ id: versionId, dashboardId: id });
    if (!then) throw notFound('version of the dashboard', versionId);
    return this.write(id, { name: then.name, content: then.content, version }, who, 0);
  }

  /** @throws Problem not-found */
  async remove(id: number): Promise<void> {
    const { affected } = await this.rows.delete(id);
    if (!affected) throw notFound('dashboard', id);
    this.changes.say('dashboards');
  }

  /** How it was, newest first. @throws Problem not-found */
  async versions(id: number): Promise<DashboardVersionEntity[]> {
    await this.get(id);
    return this.kept.find({ where: { dashboardId: id }, order: { until: 'DESC', id: 'DESC' } });
  }

  private async write(
    id: number,
    sent: { name: string; content: DashboardEntity['content']; version?: number },
    who: string,
    keptEvery: number,
  ): Promise<DashboardEntity> {
    const row = await this.rows.manager.transaction(async (tables) => {
      const before = await tables.findOne(DashboardEntity, {
        where: { id },
        lock: { mode: 'pessimistic_write' },
      });
      const changed = await changeVersioned(tables, DashboardEntity, { id }, sent, {
        ...WHAT,
        more: { changedAt: Date.now(), who },
      });
      if (before) await this.keep(tables, before, keptEvery);
      return changed;
    });
    this.changes.say('dashboards');
    return row;
  }

  /** Keeps how it was, unless something of the last minutes is kept already. */
  private async keep(tables: EntityManager, before: DashboardEntity, every: number): Promise<void> {
    const { id: dashboardId, name, content, changedAt, who } = before;
    const last = await tables.findOne(DashboardVersionEntity, {
      where: { dashboardId },
      order: { until: 'DESC', id: 'DESC' },
    });
    const now = Date.now();
    // A clock that was set back must not stop the keeping.
    if (last && Math.abs(now - last.until) < every) return;
    // Nothing of it was left to stand: it is as it was kept already.
    if (last && last.until >= changedAt && JSON.stringify(last.content) === JSON.stringify(content)) return;
    await tables.save(DashboardVersionEntity, { dashboardId, name, content, until: now, who });
    const old = await tables.find(DashboardVersionEntity, {
      where: { dashboardId },
      order: { until: 'DESC', id: 'DESC' },
      skip: MOST_VERSIONS,
      take: 1000,
      select: { id: true },
    });
    if (old.length > 0)
      await tables.delete(
        DashboardVersionEntity,
        old.map((v) => v.id),
      );
  }
}

const versionOf = ({ version }: DashboardInput) => (version === undefined ? {} : { version });

/** What was sent as it is kept: apart, on the sheet, and each element once on the phone. @throws Problem invalid */
function checked({ name, content }: DashboardInput): Pick<DashboardEntity, 'name' | 'content'> {
  if (name.trim() === '') throw invalidField('name', 'Give it a name of 1 to 80 letters.');
  const seen = new Set<string>();
  for (const [i, element] of content.elements.entries()) {
    if (seen.has(element.id))
      throw invalidField(`content.elements.${i}.id`, `Two elements have the id “${element.id}”.`);
    seen.add(element.id);
    checkEnds(element, i);
  }
  const elements = content.elements.map(plain);
  return { name: name.trim(), content: tidied({ elements, phone: content.phone }) };
}

function checkEnds({ band, scale }: DashboardElement, i: number): void {
  for (const [field, ends] of Object.entries({ band, scale }))
    if (ends && ends[0] >= ends[1])
      throw invalidField(
        `content.elements.${i}.${field}`,
        `The lower end of the ${field} is not below the upper one.`,
      );
}

/** With null for what was not sent, so that what is kept always has the same members. */
const plain = (e: DashboardElement): DashboardElement => ({
  ...e,
  title: e.title || null,
  band: e.band ?? null,
  scale: e.scale ?? null,
  nominal: e.nominal ?? null,
  digits: e.digits ?? null,
  span: e.span ?? null,
});
