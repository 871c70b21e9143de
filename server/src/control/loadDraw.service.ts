import type { LoadDraw } from '@loka/contract/control';
import { readingUncertainty } from '@loka/core/calibration';
import { stepOf } from '@loka/core/definitions';
import { Injectable } from '@nestjs/common';
import { quantileSorted } from 'd3-array';
import { CorrectionBook } from '../series/correctionBook.js';
import { DeviceBook } from '../book/deviceBook.js';
import { CalibrationService } from '../calibration/calibration.service.js';
import { notFound } from '../problem/errors.js';
import { ReadingsService } from '../series/readings.service.js';

const MINUTE = 60_000;
const LOOKED_BACK = 7 * 24 * 60 * MINUTE;
/** Minutes of readings below which nothing is said of what is usual. */
const ENOUGH = 60;
/** The draw that a load stays below but for one minute in a hundred. */
const USUAL = 0.99;

/** What a load draws, as far as it was read, and how far off its reading may be: for whoever sets a limit. */
@Injectable()
export class LoadDrawService {
  constructor(
    private readonly book: DeviceBook,
    private readonly readings: ReadingsService,
    private readonly calibrations: CalibrationService,
    private readonly corrections: CorrectionBook,
  ) {}

  async of(pointId: number): Promise<LoadDraw> {
    const point = this.book.point(pointId);
    if (!point) throw notFound('point', pointId);
    const to = Date.now();
    const [series] = await this.readings.series([pointId], { from: to - LOOKED_BACK, to }, { step: MINUTE });
    const sizes = (series?.mean ?? [])
      .flatMap((v) => (v === null ? [] : [Math.abs(v)]))
      .sort((a, b) => a - b);
    const usual = sizes.length < ENOUGH ? null : (quantileSorted(sizes, USUAL) ?? null);
    return {
      calibrated: this.corrections.has(pointId),
      usual,
      uncertainty:
        usual === null
          ? null
          : readingUncertainty(usual, stepOf(point.definition), await this.evidenceOf(pointId)),
    };
  }

  private async evidenceOf(pointId: number) {
    if (!this.corrections.has(pointId)) return null;
    const inForce = (await this.calibrations.list(pointId)).find((c) => !c.superseded);
    // Corrected with the current of the same clamp: of the power itself there is no point.
    if (!inForce) return { gain: 1, offset: 0, points: [] };
    // A copy was not measured here.
    if (inForce.copiedFrom !== null) return null;
    const { gain, offset, fit, points } = inForce;
    return { gain, offset, fit, points: points.map(({ capture, reference }) => ({ ...capture, reference })) };
  }
}
