import type { Instrument, InstrumentInput, UsedInstrument } from '@loka/contract/instruments';
import { siteClock } from '@loka/core/time';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { IsNull, Repository } from 'typeorm';
import { changeVersioned } from '../book/versioned.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { invalidField, notFound } from '../problem/errors.js';
import { SiteService } from '../site/site.service.js';
import { InstrumentEntity } from './instrument.entity.js';

/** The reference instruments of a site, with the days until which they are good. */
@Injectable()
export class InstrumentsService {
  constructor(
    @InjectRepository(InstrumentEntity) private readonly rows: Repository<InstrumentEntity>,
    private readonly sites: SiteService,
    private readonly changes: ChangeFeed,
  ) {}

  async list(): Promise<Instrument[]> {
    const today = await this.today();
    const rows = await this.rows.find({ where: { removedAt: IsNull() }, order: { name: 'ASC', id: 'ASC' } });
    return rows.map((row) => ({ ...row, isDue: isDue(row, today) }));
  }

  async save(id: number | null, input: InstrumentInput): Promise<Instrument> {
    const calibratedOn = input.calibratedOn || null;
    const dueOn = input.dueOn || null;
    if (calibratedOn !== null && dueOn !== null && dueOn < calibratedOn)
      throw invalidField('dueOn', 'It is due before it was calibrated.');
    const whole = { ...input, calibratedOn, dueOn };
    const row =
      id === null
        ? await this.rows.save({ ...whole, version: 1, removedAt: null })
        : await this.rows.manager.transaction((tables) =>
            changeVersioned(tables, InstrumentEntity, { id, removedAt: IsNull() }, whole, {
              what: 'instrument',
            }),
          );
    this.changes.say('instruments');
    return { ...row, isDue: isDue(row, await this.today()) };
  }

  /** Takes an instrument off the list; what was calibrated with it keeps what it was. */
  async remove(id: number): Promise<void> {
    const { affected } = await this.rows.update({ id, removedAt: IsNull() }, { removedAt: Date.now() });
    if (!affected) throw notFound('instrument', id);
    this.changes.say('instruments');
  }

  async putBack(id: number): Promise<void> {
    const { affected } = await this.rows.update({ id }, { removedAt: null });
    if (!affected) throw notFound('instrument', id);
    this.changes.say('instruments');
  }

  /** An instrument as it is when it is used at an instant. */
  async used(id: number, at: number): Promise<UsedInstrument> {
    const row = await this.rows.findOneBy({ id, removedAt: IsNull() });
    if (!row) throw notFound('instrument', id);
    const { name, serial, certificate, calibratedOn, dueOn } = row;
    return { name, serial, certificate, calibratedOn, dueOn, wasDue: isDue(row, await this.dayAt(at)) };
  }

  private today(): Promise<string> {
    return this.dayAt(Date.now());
  }

  private async dayAt(t: number): Promise<string> {
    const site = await this.sites.get();
    return siteClock(site?.timeZone ?? 'UTC', t, 'yyyy-MM-dd');
  }
}

/** Good until the end of its due day. */
const isDue = ({ dueOn }: Pick<InstrumentEntity, 'dueOn'>, today: string): boolean =>
  dueOn !== null && dueOn < today;
