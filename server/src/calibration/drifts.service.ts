import type { DriftSeen } from '@loka/contract/calibration';
import { driftBetween } from '@loka/core/calibration';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { ReadingsService } from '../series/readings.service.js';
import { CorrectionBook } from '../series/correctionBook.js';
import { CalibrationEntity } from './calibration.entity.js';

const HOUR = 3_600_000;
/** So much of the past is looked at, ms. */
const LONGEST = 365 * 24 * HOUR;
/** What was found holds for so long before it is looked at again, ms. */
const KEPT = HOUR;

/**
 * Calibrated points that drift from their neighbours: from the meter on the same conductor that they were calibrated against,
 * and, for a voltage, from the other voltages of the same line.
 */
@Injectable()
export class DriftsService {
  private found: { at: number; key: string; drifts: DriftSeen[] } | null = null;
  private looking: Promise<DriftSeen[]> = Promise.resolve([]);

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly book: DeviceBook,
    private readonly corrections: CorrectionBook,
    private readonly readings: ReadingsService,
  ) {}

  list(): Promise<DriftSeen[]> {
    this.looking = this.looking.catch(() => []).then(() => this.look());
    return this.looking;
  }

  private async look(): Promise<DriftSeen[]> {
    const measured = this.book.allPoints().filter((p) => this.corrections.has(p.id));
    const key = measured
      .map((p) => `${p.id}:${this.corrections.correctionsOf(p.id).at(-1)?.calibrationId}`)
      .join();
    if (this.found && this.found.key === key && performance.now() - this.found.at < KEPT)
      return this.found.drifts;
    const drifts: DriftSeen[] = [];
    for (const point of measured) {
      const drift = await this.of(point);
      if (drift) drifts.push(drift);
    }
    this.found = { at: performance.now(), key, drifts };
    return drifts;
  }

  private async of(point: KnownPoint): Promise<DriftSeen | null> {
    const correction = this.corrections.correctionsOf(point.id).at(-1);
    if (!correction) return null;
    const calibration = await this.db
      .getRepository(CalibrationEntity)
      .findOneBy({ id: correction.calibrationId });
    if (!calibration) return null;
    const neighbours = this.neighboursOf(point, calibration);
    if (neighbours.length === 0) return null;
    const to = Math.floor(Date.now() / HOUR) * HOUR;
    const from = Math.max(Math.ceil(calibration.madeAt / HOUR) * HOUR, to - LONGEST);
    if (from >= to) return null;
    const [own, ...others] = await this.readings.series(
      [point.id, ...neighbours.map((n) => n.id)],
      { from, to },
      { step: HOUR },
    );
    const drifts = others.flatMap((series, i) => {
      const drift = own && driftBetween(own.t, own.mean, series.mean);
      return drift ? [{ drift, neighbour: neighbours[i] as KnownPoint }] : [];
    });
    // Of several neighbours most have to say so: one that drifts itself accuses nobody.
    const [first] = drifts;
    if (!first || drifts.length * 2 <= neighbours.length) return null;
    return {
      pointId: point.id,
      neighbourId: first.neighbour.id,
      neighbour: `${first.neighbour.deviceName}, ${first.neighbour.definition.name}`,
      ...first.drift,
    };
  }

  private neighboursOf(point: KnownPoint, { evidence }: CalibrationEntity): KnownPoint[] {
    const against = evidence.flatMap((e) =>
      e.kind === 'meter' && e.pointId !== undefined ? [e.pointId] : [],
    );
    const beside = this.book.allPoints().filter(
      (p) =>
        p.id !== point.id &&
        p.deviceId !== point.deviceId &&
        // A power is corrected with its current: what that was compared with is another quantity.
        p.definition.quantity === point.definition.quantity &&
        (against.includes(p.id) ||
          (point.definition.quantity === 'voltage' && p.nodeId !== null && p.phase === point.phase)),
    );
    return beside;
  }
}
