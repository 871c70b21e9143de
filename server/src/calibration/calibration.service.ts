import type {
  Calibration,
  CalibrationInput,
  CalibrationPoint,
  CalibrationPointInput,
} from '@loka/contract/calibration';
import {
  applyCorrection,
  correctionAt,
  fitCorrection,
  FitError,
  percentError,
  summariseCapture,
  EmptyCaptureError,
  type Capture,
} from '@loka/core/calibration';
import { applyLine, isGood } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager, IsNull, MoreThanOrEqual } from 'typeorm';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { invalid, invalidField, notFound, Problem } from '../problem/errors.js';
import { CorrectionBook } from '../series/correctionBook.js';
import { CorrectionEntity } from '../series/correction.entity.js';
import { Journal } from '../series/journal.js';
import { LineBook } from '../series/lineBook.js';
import { RebuildEntity } from '../series/rebuild.entity.js';
import { RebuildsService } from '../series/rebuilds.service.js';
import { SampleStore } from '../series/sampleStore.js';
import { CalibrationEntity } from './calibration.entity.js';

/** The longest capture, so that a slip of the clock does not average a day. */
const LONGEST_CAPTURE = 10 * 60_000;

/** Calibrations: captures taken from the stored raw samples, the fit, and the corrections that come of it. */
@Injectable()
export class CalibrationService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly book: DeviceBook,
    private readonly corrections: CorrectionBook,
    private readonly lines: LineBook,
    private readonly store: SampleStore,
    private readonly journal: Journal,
    private readonly rebuilds: RebuildsService,
    private readonly changes: ChangeFeed,
  ) {}

  async list(pointId: number): Promise<Calibration[]> {
    const [rows, corrections] = await Promise.all([
      this.db.getRepository(CalibrationEntity).find({ where: { pointId }, order: { id: 'DESC' } }),
      this.db.getRepository(CorrectionEntity).findBy({ pointId }),
    ]);
    const inForce = (id: number) =>
      corrections.some((c) => c.calibrationId === id && c.supersededBy === null && c.undoneAt === null);
    const newest = rows.find((row) =>
      corrections.some((c) => c.calibrationId === row.id && c.undoneAt === null),
    );
    return rows.map(({ evidence, ...row }) => ({
      ...row,
      points: evidence,
      superseded: !inForce(row.id),
      undoable: row.id === newest?.id,
    }));
  }

  /** Mean and spread of the good samples of a point in a span, raw but for its transducer. */
  async capture(pointId: number, from: number, to: number): Promise<Capture> {
    if (!this.book.point(pointId)) throw notFound('point', pointId);
    if (to <= from) throw invalidField('to', 'The capture ends before it starts.');
    if (to - from > LONGEST_CAPTURE) throw invalidField('to', 'A capture lasts ten minutes at most.');
    await this.store.flush();
    const samples = (await this.journal.readMany([pointId], from, to + 1)).get(pointId) ?? [];
    try {
      return summariseCapture(
        samples
          .filter((s) => isGood(s.q) && s.v !== null)
          .map((s) => applyLine(this.lines.sensingAt(pointId, s.t), s.v as number)),
      );
    } catch (error) {
      if (error instanceof EmptyCaptureError)
        throw invalid(
          'No good reading arrived during the capture. See whether the device answers, then take the point again.',
        );
      throw error;
    }
  }

  /** Makes a calibration, puts its correction in force, and starts bringing the past up to date. */
  async make(input: CalibrationInput): Promise<Calibration> {
    const point = this.book.point(input.pointId);
    if (!point) throw notFound('point', input.pointId);
    if (input.validFrom > Date.now() + 60_000)
      throw invalidField('validFrom', 'A correction holds from now or from an earlier instant.');
    const captures = await Promise.all(input.points.map((p) => this.capture(point.id, p.from, p.to)));
    const { gain, offset } = this.fit(
      input.points.map((p, i) => ({ raw: (captures[i] as Capture).mean, reference: p.reference })),
    );
    const evidence = input.points.map((p, i) =>
      this.evidence(point.id, p, captures[i] as Capture, { gain, offset }),
    );
    const power = input.withPower ? this.powerOfSameClamp(point) : undefined;
    const { validFrom } = input;
    const { calibration, rebuilds } = await this.db.transaction(async (tables) => {
      const row = {
        pointId: point.id,
        madeAt: Date.now(),
        validFrom,
        gain,
        offset,
        evidence,
        powerPointId: power?.id ?? null,
      };
      const calibration = await tables.save(CalibrationEntity, row);
      await this.putInForce(tables, calibration.id, point.id, validFrom, gain, offset);
      // The transducer's gain error is in its power as well; its zero is not.
      if (power) await this.putInForce(tables, calibration.id, power.id, validFrom, gain, 0);
      const rebuilds = await this.planDependents(tables, row, calibration.id);
      return { calibration, rebuilds };
    });
    await this.afterChange(
      `Virtual meters brought up to date: ${point.deviceName}, ${point.definition.name}`,
      rebuilds,
      () => this.undo(calibration.id),
    );
    return (await this.list(point.id)).find((c) => c.id === calibration.id) as Calibration;
  }

  /** Takes the newest calibration of a point back; what it had replaced is in force again. */
  async undo(id: number): Promise<void> {
    const calibration = await this.db.getRepository(CalibrationEntity).findOneBy({ id });
    if (!calibration) throw notFound('calibration', id);
    const mine = (await this.list(calibration.pointId)).find((c) => c.id === id);
    if (!mine?.undoable)
      throw new Problem('not-newest', 'A newer calibration stands on this one. Take that back first.');
    const rebuilds = await this.db.transaction(async (tables) => {
      await tables.update(CorrectionEntity, { calibrationId: id }, { undoneAt: Date.now() });
      await tables.update(CorrectionEntity, { supersededBy: id }, { supersededBy: null });
      await tables.delete(RebuildEntity, { calibrationId: id });
      return this.planDependents(tables, calibration, null);
    });
    await this.afterChange('Virtual meters brought back to what they were', rebuilds);
  }

  /**
   * What is computed from a calibrated point has to be computed anew; the point itself and what its meter adds up are
   * corrected whenever they are read.
   */
  private planDependents(
    tables: EntityManager,
    { pointId, powerPointId, validFrom }: Pick<CalibrationEntity, 'pointId' | 'powerPointId' | 'validFrom'>,
    calibrationId: number | null,
  ): Promise<RebuildEntity[]> {
    const own = [pointId, powerPointId].filter((id) => id !== null);
    const moved = own.flatMap((id) => [id, ...this.lines.totalsWith(id)]);
    return this.rebuilds.plan(tables, moved, validFrom, { own: false, calibrationId });
  }

  /** The power that the same clamp gives: same device, same place, same conductor. */
  powerOfSameClamp(point: KnownPoint): KnownPoint | undefined {
    if (point.definition.quantity !== 'current' || point.nodeId === null) return undefined;
    return this.book
      .allPoints()
      .find(
        (p) =>
          p.deviceId === point.deviceId &&
          p.nodeId === point.nodeId &&
          p.phase === point.phase &&
          p.definition.quantity === 'active-power',
      );
  }

  private fit(points: { raw: number; reference: number }[]) {
    try {
      return fitCorrection(points);
    } catch (error) {
      if (error instanceof FitError)
        throw invalid(
          `The points make no correction: ${error.message}.`,
          points.map((_, i) => ({ field: `points.${i}.reference`, message: error.message })).slice(-1),
        );
      throw error;
    }
  }

  private evidence(
    pointId: number,
    point: CalibrationPointInput,
    capture: Capture,
    fit: { gain: number; offset: number },
  ): CalibrationPoint {
    const found = applyCorrection(
      correctionAt(this.corrections.correctionsOf(pointId), point.to),
      capture.mean,
    );
    return {
      ...point,
      capture,
      asFound: percentError(found, point.reference),
      asLeft: percentError(applyCorrection(fit, capture.mean), point.reference),
    };
  }

  private async putInForce(
    tables: EntityManager,
    calibrationId: number,
    pointId: number,
    validFrom: number,
    gain: number,
    offset: number,
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
      supersededBy: null,
      undoneAt: null,
    });
  }

  private async afterChange(
    title: string,
    rebuilds: RebuildEntity[],
    onCancel?: () => Promise<void>,
  ): Promise<void> {
    await this.corrections.reload();
    this.changes.say('calibrations', 'installation', 'devices', 'history');
    if (rebuilds.length > 0) void this.rebuilds.run(title, rebuilds, onCancel);
  }
}
