import type { CalibrationCopy } from '@loka/contract/calibration';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { invalidField, notFound } from '../problem/errors.js';
import type { RebuildEntity } from '../series/rebuild.entity.js';
import { CalibrationEntity } from './calibration.entity.js';
import { CalibrationService } from './calibration.service.js';
import { InForceService } from './inForce.service.js';

/** Corrections that points of like devices take over: marked as copied, and evidence of nothing. */
@Injectable()
export class CopiesService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly book: DeviceBook,
    private readonly calibrations: CalibrationService,
    private readonly inForce: InForceService,
  ) {}

  /** The points of like devices that could take over what was found of one: the same value of the same map. */
  async alike(pointId: number): Promise<number[]> {
    const point = this.book.point(pointId);
    if (!point) throw notFound('point', pointId);
    if (point.deviceId === null) return [];
    const maps = new Map(
      (await this.book.devices.find({ select: { id: true, mapId: true } })).map((d) => [d.id, d.mapId]),
    );
    const isAlike = (other: KnownPoint) =>
      other.id !== point.id &&
      other.deviceId !== null &&
      maps.get(other.deviceId) === maps.get(point.deviceId as number) &&
      other.definition.quantity === point.definition.quantity &&
      other.definition.unit === point.definition.unit;
    return this.book
      .allPoints()
      .filter(isAlike)
      .map((p) => p.id);
  }

  /** @returns the calibrations that came of it */
  async copy(id: number, { pointIds, validFrom }: CalibrationCopy, who: string): Promise<number[]> {
    const from = await this.db.getRepository(CalibrationEntity).findOneBy({ id });
    if (!from) throw notFound('calibration', id);
    if (validFrom > Date.now() + 60_000)
      throw invalidField('validFrom', 'A correction holds from now or from an earlier instant.');
    const alike = await this.alike(from.pointId);
    const stranger = pointIds.find((p) => !alike.includes(p));
    if (stranger !== undefined)
      throw invalidField(
        'pointIds',
        `“${this.book.point(stranger)?.definition.name ?? stranger}” is not the same value of a device of the same kind: what was found there says nothing about it.`,
      );
    const { gain, offset, knots, noLoad, displacement } = from;
    const rebuilds: RebuildEntity[] = [];
    const made: number[] = [];
    await this.db.transaction(async (tables) => {
      for (const pointId of new Set(pointIds)) {
        const power =
          from.powerPointId === null
            ? undefined
            : this.calibrations.powerOfSameClamp(this.book.point(pointId) as KnownPoint);
        const row = await tables.save(CalibrationEntity, {
          pointId,
          madeAt: Date.now(),
          validFrom,
          gain,
          offset,
          knots,
          noLoad,
          displacement,
          // How certain the other one is says nothing about this one.
          fit: null,
          evidence: [],
          powerPointId: power?.id ?? null,
          who,
          dueAt: Date.now(),
          copiedFrom: id,
        });
        made.push(row.id);
        await this.inForce.put(tables, row.id, pointId, {
          validFrom,
          gain,
          offset,
          knots,
          noLoad,
          displacement,
        });
        if (power) await this.inForce.put(tables, row.id, power.id, { validFrom, gain, offset: 0 });
        rebuilds.push(...(await this.inForce.planDependents(tables, row, row.id)));
      }
    });
    await this.inForce.follow('Copied corrections brought into the past', rebuilds);
    return made;
  }
}
