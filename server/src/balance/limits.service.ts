import type { PlaceLimit } from '@loka/contract/balance';
import { limitOf } from '@loka/core/balance';
import { coverageOf } from '@loka/core/calibration';
import { isFormula } from '@loka/core/definitions';
import { chosen, namesIn, NOMINAL, parseFormula } from '@loka/core/virtual';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In } from 'typeorm';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { powerPointsOf } from '../book/nodePoints.js';
import { CalibrationEntity } from '../calibration/calibration.entity.js';
import { CorrectionBook } from '../series/correctionBook.js';

/** Within how much each metered place is taken to be right. */
@Injectable()
export class LimitsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly corrections: CorrectionBook,
  ) {}

  async ofNodes(): Promise<Map<number, PlaceLimit>> {
    const points = this.book.allPoints();
    const calibrated = await this.calibrated();
    return new Map(
      this.tree.all().map(({ id }) => {
        const power = powerPointsOf(points.filter((p) => p.nodeId === id));
        const limits = power.map((p) => this.ofPoint(p, calibrated));
        const worst = limits.reduce<PlaceLimit | null>(
          (most, limit) => (most === null || limit.relative > most.relative ? limit : most),
          null,
        );
        return [id, worst ?? limitOf({ calibrated: null, accuracyClass: null, assumedVoltage: false })];
      }),
    );
  }

  private ofPoint(point: KnownPoint, calibrated: ReadonlyMap<number, number>): PlaceLimit {
    if (isFormula(point.definition)) {
      const inputs = point.definition.inputs.flatMap(({ pointId }) => this.book.point(pointId) ?? []);
      const worst = Math.max(0, ...inputs.map((p) => this.ofPoint(p, calibrated).relative));
      // As it is while everything is read.
      const formula = chosen(parseFormula(point.definition.formula), () => true);
      const assumed = namesIn(formula).includes(NOMINAL);
      return {
        relative: assumed
          ? Math.hypot(worst, limitOf({ calibrated: 0, accuracyClass: null, assumedVoltage: true }).relative)
          : worst,
        why: assumed ? 'computed with the nominal voltage' : 'computed, as its inputs',
      };
    }
    return limitOf({
      calibrated: calibrated.get(point.id) ?? null,
      accuracyClass: this.corrections.sensingsOf(point.id).at(-1)?.accuracyClass ?? null,
      assumedVoltage: false,
    });
  }

  /** Expanded relative uncertainty of the gain, 95 %, of points for which a calibration holds that was made on them. */
  private async calibrated(): Promise<Map<number, number>> {
    const holding = this.corrections.touched().flatMap((pointId) => {
      const last = this.corrections.correctionsOf(pointId).at(-1);
      return last && this.corrections.has(pointId) ? [{ pointId, calibrationId: last.calibrationId }] : [];
    });
    if (holding.length === 0) return new Map();
    const made = await this.db.getRepository(CalibrationEntity).find({
      where: { id: In([...new Set(holding.map((h) => h.calibrationId))]) },
      select: { id: true, fit: true },
    });
    return new Map(
      holding.flatMap(({ pointId, calibrationId }) => {
        const fit = made.find((c) => c.id === calibrationId)?.fit;
        return fit && fit.gain !== 0
          ? [[pointId, (coverageOf(fit) * fit.uGain) / Math.abs(fit.gain)] as const]
          : [];
      }),
    );
  }
}
