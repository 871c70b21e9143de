import type { SiteInput } from '@loka/contract/site';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { ChangeFeed } from '../live/changeFeed.js';
import { changeVersioned } from '../book/versioned.js';
import { Problem } from '../problem/errors.js';
import { SiteEntity } from './site.entity.js';

/** The one site that this Loka keeps; null until the first question has been answered. */
@Injectable()
export class SiteService {
  constructor(
    @InjectRepository(SiteEntity) private readonly sites: Repository<SiteEntity>,
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
    const site = before
      ? await this.sites.manager.transaction((tables) =>
          changeVersioned(tables, SiteEntity, { id: before.id }, input, { what: 'site' }),
        )
      : await this.sites.save({ ...input, version: 1 });
    this.changes.say('site');
    return site;
  }
}
