import { Injectable, Logger, OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { isSameSetting } from '@loka/core/settings';
import { SettingEntity } from './setting.entity.js';

const UNKNOWN = { wanted: null, value: null, readAt: null, before: null, changedAt: null } as const;

/** What stands in the devices as settings, and what is wanted, kept in memory because every diagnosis asks for it. */
@Injectable()
export class SettingsBook implements OnModuleInit {
  private readonly log = new Logger('settings');
  private readonly known = new Map<number, SettingEntity>();

  constructor(@InjectRepository(SettingEntity) private readonly rows: Repository<SettingEntity>) {}

  async onModuleInit(): Promise<void> {
    for (const row of await this.rows.find()) this.known.set(row.pointId, row);
  }

  of(pointId: number): Readonly<SettingEntity> {
    return this.known.get(pointId) ?? { pointId, ...UNKNOWN };
  }

  async want(pointId: number, wanted: number | null): Promise<void> {
    // That alone: it may be read meanwhile.
    await this.rows.upsert({ pointId, wanted }, ['pointId']);
    this.known.set(pointId, { ...this.of(pointId), wanted });
  }

  /**
   * Takes what was read: it is so, whether or not the database takes it as well.
   * @param step the smallest change of the setting
   */
  async read(pointId: number, value: number, at: number, step: number): Promise<void> {
    const before = this.of(pointId);
    const changed = before.value !== null && !isSameSetting(before.value, value, step);
    const row = {
      pointId,
      value,
      readAt: at,
      ...(changed ? { before: before.value, changedAt: at } : {}),
    };
    this.known.set(pointId, { ...before, ...row });
    try {
      await this.rows.upsert(row, ['pointId']);
    } catch (error) {
      this.log.warn(`what was read of a setting could not be kept: ${(error as Error).message}`);
    }
  }
}
