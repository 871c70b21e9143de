import type { SettingChange } from '@loka/contract/settings';
import { stepOf } from '@loka/core/definitions';
import { isSameSetting, movesReadings } from '@loka/core/settings';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import type { SettingPoint } from '../acquisition/settingWire.service.js';
import { DeviceBook } from '../book/deviceBook.js';
import { FittingsBook } from '../book/fittingsBook.js';
import { SettingChangeEntity } from './settingChange.entity.js';
import { show } from './settingValue.js';

const CHANGES_LISTED = 20;
/** A device that sleeps takes what was written when it wakes, within this, ms. */
const TAKEN_LATE = 24 * 3_600_000;

/** Who wrote what into a device, and what of it became part of the history of the places that it measures. */
@Injectable()
export class SettingHistory {
  constructor(
    @InjectRepository(SettingChangeEntity) private readonly rows: Repository<SettingChangeEntity>,
    private readonly book: DeviceBook,
    private readonly fittings: FittingsBook,
  ) {}

  /** What was written into a device, newest first. */
  async of(deviceId: number): Promise<SettingChange[]> {
    const rows = await this.rows.find({ where: { deviceId }, order: { id: 'DESC' }, take: CHANGES_LISTED });
    return rows.map(({ pointId, at, who, before, value, after }) => ({
      pointId,
      at,
      who,
      before,
      value,
      after,
    }));
  }

  async add(change: SettingChange & { deviceId: number }): Promise<void> {
    await this.rows.save(change);
  }

  /** Who wrote a value that a device had not given back at first; null when nobody did with Loka. */
  async takenLate({ id: pointId, definition }: SettingPoint, value: number): Promise<string | null> {
    const [last] = await this.rows.find({ where: { pointId }, order: { id: 'DESC' }, take: 1 });
    if (last?.after !== null || !isSameSetting(last.value, value, stepOf(definition))) return null;
    if (last.at < Date.now() - TAKEN_LATE) return null;
    await this.rows.update(last.id, { after: value, at: Date.now() });
    return last.who;
  }

  /** A change is part of the history of the places that the device measures. */
  async putDown(point: SettingPoint, before: number, after: number, who: string): Promise<void> {
    const { definition, deviceId } = point;
    if (!movesReadings(definition.setting ?? 'other')) return;
    const words = (value: number) => definition.names?.find((n) => n.value === value)?.name ?? show(value);
    const says = `${point.deviceName}, ${definition.name}: ${words(before)} → ${words(after)}`;
    await this.fittings.add(this.placesOf([deviceId]), 'setting', says, who);
  }

  /** The places that devices measure. */
  placesOf(deviceIds: readonly (number | null)[]): number[] {
    return this.book.allPoints().flatMap((p) => (deviceIds.includes(p.deviceId) ? (p.nodeId ?? []) : []));
  }
}
