import type { SiteInput } from '@loka/contract/site';
import { linesIn, phasesIn, type SupplySystem } from '@loka/core/installation';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { DeviceBook } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { changeVersioned } from '../book/versioned.js';
import { invalidField, Problem } from '../problem/errors.js';
import { SiteEntity } from './site.entity.js';
import { ZoneChangeEntity } from './zoneChange.entity.js';

/** The one site that this Loka keeps; null until the first question has been answered. */
@Injectable()
export class SiteService {
  constructor(
    @InjectRepository(SiteEntity) private readonly sites: Repository<SiteEntity>,
    private readonly tree: InstallationBook,
    private readonly devices: DeviceBook,
    private readonly changes: ChangeFeed,
  ) {}

  async get(): Promise<SiteEntity | null> {
    return (await this.sites.find({ take: 1 }))[0] ?? null;
  }

  /** The site, or a refusal that says to name it first. */
  async require(): Promise<SiteEntity> {
    const site = await this.get();
    if (!site) throw new Problem('no-site', 'Name the site first.');
    return site;
  }

  async save(input: SiteInput): Promise<SiteEntity> {
    const before = await this.get();
    this.checkLines(input.supplySystem);
    this.checkOutdoor(input.outdoorPointId ?? null, before?.outdoorPointId ?? null);
    const site = before
      ? await this.sites.manager.transaction(async (tables) => {
          const changed = await changeVersioned(tables, SiteEntity, { id: before.id }, input, {
            what: 'site',
          });
          const [zoneBefore, zoneAfter] = [before.timeZone, changed.timeZone];
          if (zoneBefore !== zoneAfter)
            await tables.insert(ZoneChangeEntity, { at: Date.now(), zoneBefore, zoneAfter });
          return changed;
        })
      : await this.sites.save({ ...input, version: 1 });
    this.changes.say('site');
    return site;
  }

  /** When the site got another time zone, in order. */
  zoneChanges(): Promise<ZoneChangeEntity[]> {
    return this.sites.manager.find(ZoneChangeEntity, { order: { at: 'ASC' } });
  }

  /** Chosen is a point that measures a temperature; one that was removed since stays until another is chosen. */
  private checkOutdoor(pointId: number | null, before: number | null): void {
    if (pointId === null || pointId === before) return;
    if (this.devices.point(pointId)?.definition.quantity !== 'temperature')
      throw invalidField('outdoorPointId', 'Choose a point that measures a temperature.');
  }

  /** A supply loses no line on which something hangs. */
  private checkLines(system: SupplySystem): void {
    const possible = phasesIn(system) as readonly string[];
    const other = this.tree.all().find((node) => !possible.includes(node.phases));
    if (other)
      throw invalidField(
        'supplySystem',
        `“${other.name}” is on ${other.phases}; such a supply has ${linesIn(system).join(' and ')}.`,
      );
  }
}
