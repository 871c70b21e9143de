import { applyCorrection, correctionAt } from '@loka/core/calibration';
import { Injectable, OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { IsNull, Repository } from 'typeorm';
import { CorrectionEntity } from './calibration.entity.js';
import { Newest } from '../database/newest.js';

/** The corrections in force, kept in memory because every reading asks for them. */
@Injectable()
export class CorrectionBook implements OnModuleInit {
  private readonly newest = new Newest();
  private byPoint = new Map<number, CorrectionEntity[]>();

  constructor(@InjectRepository(CorrectionEntity) readonly rows: Repository<CorrectionEntity>) {}

  onModuleInit(): Promise<void> {
    return this.reload();
  }

  reload(): Promise<void> {
    return this.newest.take(
      () =>
        this.rows.find({
          where: { supersededBy: IsNull(), undoneAt: IsNull() },
          order: { validFrom: 'ASC', id: 'ASC' },
        }),
      (rows) => {
        const byPoint = new Map<number, CorrectionEntity[]>();
        for (const row of rows) byPoint.set(row.pointId, [...(byPoint.get(row.pointId) ?? []), row]);
        this.byPoint = byPoint;
      },
    );
  }

  has(pointId: number): boolean {
    return this.byPoint.has(pointId);
  }

  inForce(pointId: number): CorrectionEntity[] {
    return this.byPoint.get(pointId) ?? [];
  }

  /** The corrected value of a raw one that was read at t. */
  correct(pointId: number, t: number, raw: number): number {
    const rows = this.byPoint.get(pointId);
    return rows ? applyCorrection(correctionAt(rows, t), raw) : raw;
  }
}
