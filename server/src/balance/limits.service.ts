import type { PlaceLimit } from '@loka/contract/balance';
import { limitOf } from '@loka/core/balance';
import { coverageFactor, type Fit } from '@loka/core/calibration';
import { isFormula } from '@loka/core/definitions';
import { namesIn, NOMINAL, parseFormula } from '@loka/core/virtual';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { powerPointsOf } from '../book/nodePoints.js';
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
      const assumed = namesIn(parseFormula(point.definition.formula)).includes(NOMINAL);
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

  /** Expanded relative uncertainty of the gain, 95 %, of points that were calibrated themselves. */
  private async calibrated(): Promise<Map<number, number>> {
    const rows: { pointId: number; gain: number; fit: string | null }[] = await this.db.query(
      `SELECT r.pointId, r.gain, c.fit FROM corrections r JOIN calibrations c ON c.id = r.calibrationId
       WHERE r.supersededBy IS NULL AND r.undoneAt IS NULL AND c.copiedFrom IS NULL ORDER BY r.validFrom, r.id`,
    );
    return new Map(
      rows.flatMap(({ pointId, gain, fit }) => {
        const known = fit === null ? null : (JSON.parse(fit) as Fit | null);
        return known && gain !== 0
          ? [[pointId, (coverageFactor(known.degrees ?? Infinity) * known.uGain) / Math.abs(gain)] as const]
          : [];
      }),
    );
  }
}
