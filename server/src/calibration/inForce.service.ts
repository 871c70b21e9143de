import { Injectable } from '@nestjs/common';
import { type EntityManager, IsNull, MoreThanOrEqual } from 'typeorm';
import { ChangeFeed } from '../live/changeFeed.js';
import { CorrectionBook } from '../series/correctionBook.js';
import { CorrectionEntity } from '../series/correction.entity.js';
import { LineBook, type SupposedLine } from '../series/lineBook.js';
import type { RebuildEntity } from '../series/rebuild.entity.js';
import { RebuildsService } from '../series/rebuilds.service.js';
import type { CalibrationEntity } from './calibration.entity.js';

/** Puts corrections in force, and has what depends on the corrected points follow. */
@Injectable()
export class InForceService {
  constructor(
    private readonly corrections: CorrectionBook,
    private readonly lines: LineBook,
    private readonly rebuilds: RebuildsService,
    private readonly changes: ChangeFeed,
  ) {}

  /** Has a correction hold from its instant on, in the place of what held from then on. */
  async put(
    tables: EntityManager,
    calibrationId: number,
    pointId: number,
    { validFrom, gain, offset, knots = null, noLoad = null, displacement = null }: SupposedLine,
  ): Promise<void> {
    await tables.update(
      CorrectionEntity,
      { pointId, validFrom: MoreThanOrEqual(validFrom), supersededBy: IsNull(), undoneAt: IsNull() },
      { supersededBy: calibrationId },
    );
    await tables.insert(CorrectionEntity, {
      pointId,
      calibrationId,
      validFrom,
      gain,
      offset,
      knots: knots && [...knots],
      noLoad,
      displacement,
      supersededBy: null,
      undoneAt: null,
    });
  }

  /**
   * What is computed from a calibrated point has to be computed again; the point itself and what its meter adds up are
   * corrected whenever they are read.
   */
  planDependents(
    tables: EntityManager,
    { pointId, powerPointId, validFrom }: Pick<CalibrationEntity, 'pointId' | 'powerPointId' | 'validFrom'>,
    calibrationId: number | null,
  ): Promise<RebuildEntity[]> {
    const own = [pointId, powerPointId].filter((id) => id !== null);
    const moved = own.flatMap((id) => [id, ...this.lines.totalsWith(id)]);
    return this.rebuilds.plan(tables, moved, validFrom, { own: false, calibrationId });
  }

  /** Has everybody hear of it, and works off what was planned. */
  async follow(title: string, rebuilds: RebuildEntity[], onCancel?: () => Promise<void>): Promise<void> {
    await this.corrections.reload();
    this.changes.say('calibrations', 'installation', 'devices', 'history');
    if (rebuilds.length > 0) void this.rebuilds.run(title, rebuilds, onCancel);
  }
}
