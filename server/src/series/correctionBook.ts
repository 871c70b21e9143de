import { Injectable, OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Subject } from 'rxjs';
import { IsNull, Repository } from 'typeorm';
import { Newest } from '../database/newest.js';
import { CorrectionEntity } from './correction.entity.js';
import { SensingEntity } from './sensing.entity.js';

/** What turns raw values into readings, in force, kept in memory because every reading asks for it: sensing and corrections. */
@Injectable()
export class CorrectionBook implements OnModuleInit {
  readonly reloaded = new Subject<void>();
  private readonly newest = new Newest();
  private corrections = new Map<number, CorrectionEntity[]>();
  private sensings = new Map<number, SensingEntity[]>();
  private calibratedAt = new Map<number, number>();
  /** Calibrations that were copied from a like device. */
  private copied = new Set<number>();

  constructor(
    @InjectRepository(CorrectionEntity) readonly rows: Repository<CorrectionEntity>,
    @InjectRepository(SensingEntity) readonly sensingRows: Repository<SensingEntity>,
  ) {}

  onModuleInit(): Promise<void> {
    return this.reload();
  }

  reload(): Promise<void> {
    return this.newest.take(
      () =>
        Promise.all([
          this.rows.find({
            where: { supersededBy: IsNull(), undoneAt: IsNull() },
            order: { validFrom: 'ASC', id: 'ASC' },
          }),
          this.sensingRows.find({ order: { validFrom: 'ASC' } }),
          this.rows.query('SELECT id, madeAt, copiedFrom FROM calibrations') as Promise<
            { id: number; madeAt: number; copiedFrom: number | null }[]
          >,
        ]),
      ([corrections, sensings, calibrations]) => {
        this.corrections = groupByPoint(corrections);
        this.sensings = groupByPoint(sensings);
        this.calibratedAt = new Map(calibrations.map((c) => [c.id, Number(c.madeAt)]));
        this.copied = new Set(calibrations.filter((c) => c.copiedFrom !== null).map((c) => c.id));
        this.reloaded.next();
      },
    );
  }

  /** Whether a calibration holds for a point that was made on it, and not on a like device. */
  has(pointId: number): boolean {
    const last = this.corrections.get(pointId)?.at(-1);
    return last !== undefined && !this.copied.has(last.calibrationId);
  }

  /** Whether what corrects a point was copied from a like device. */
  isCopied(pointId: number): boolean {
    return this.corrections.has(pointId) && !this.has(pointId);
  }

  correctionsOf(pointId: number): readonly CorrectionEntity[] {
    return this.corrections.get(pointId) ?? [];
  }

  /** When the calibration behind a correction was made, which may be later than that from which on it holds; UTC ms. */
  madeAt({ calibrationId, validFrom }: CorrectionEntity): number {
    return this.calibratedAt.get(calibrationId) ?? validFrom;
  }

  sensingsOf(pointId: number): readonly SensingEntity[] {
    return this.sensings.get(pointId) ?? [];
  }

  /** The points that are not simply read: they have sensing, or a correction. */
  touched(): number[] {
    return [...new Set([...this.corrections.keys(), ...this.sensings.keys()])];
  }
}

function groupByPoint<T extends { pointId: number }>(rows: readonly T[]): Map<number, T[]> {
  const byPoint = new Map<number, T[]>();
  for (const row of rows) {
    const list = byPoint.get(row.pointId);
    if (list) list.push(row);
    else byPoint.set(row.pointId, [row]);
  }
  return byPoint;
}
