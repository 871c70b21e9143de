import type { Happening } from '@loka/contract/happenings';
import { correctionInWords } from '@loka/core/calibration';
import { quantityInfo } from '@loka/core/quantities';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { And, DataSource, In, IsNull, LessThan, MoreThanOrEqual, Or } from 'typeorm';
import { AlertEntity } from '../alerts/alert.entity.js';
import { DeviceBook } from '../book/deviceBook.js';
import { FittingEntity } from '../book/fitting.entity.js';
import { InstallationBook } from '../book/installationBook.js';
import { SwitchBook } from '../book/switchBook.js';
import { CalibrationEntity } from '../calibration/calibration.entity.js';
import { CommentsService } from '../comments/comments.service.js';
import { SwitchOperationEntity } from '../control/control.entity.js';
import { notFound } from '../problem/errors.js';
import { CorrectionEntity } from '../series/correction.entity.js';
import { GapsService } from './gaps.service.js';

const LISTED = 300;
const OUTCOMES = {
  waiting: 'waiting for the contact',
  confirmed: 'confirmed by the contact',
  mismatch: 'the contact disagrees',
  failed: 'failed',
} as const;

/** What happened at a place: alerts, switch operations, corrections, gaps, what was fitted, and what people say. */
@Injectable()
export class HappeningsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly tree: InstallationBook,
    private readonly book: DeviceBook,
    private readonly switches: SwitchBook,
    private readonly comments: CommentsService,
    private readonly gaps: GapsService,
  ) {}

  /** Within [from, to), in order of time. */
  async of(nodeId: number, from: number, to: number): Promise<Happening[]> {
    const node = this.tree.node(nodeId);
    if (!node) throw notFound('place in the installation', nodeId);
    const points = this.book.allPoints().filter((p) => p.nodeId === nodeId);
    const lists = await Promise.all([
      this.alerts(
        points.map((p) => p.id),
        from,
        to,
      ),
      this.operations(this.switches.ofNode(nodeId)?.id ?? null, from, to),
      this.corrections(points, from, to),
      this.fittings(nodeId, from, to),
      this.gaps.of(nodeId, from, to),
      this.said(nodeId, from, to),
    ]);
    return lists.flat().sort((a, b) => a.t - b.t);
  }

  /** Alerts that stood at some time within the period. */
  private async alerts(pointIds: number[], from: number, to: number): Promise<Happening[]> {
    if (pointIds.length === 0) return [];
    const rows = await this.db.getRepository(AlertEntity).find({
      where: {
        pointId: In(pointIds),
        raisedAt: LessThan(to),
        returnedAt: Or(IsNull(), MoreThanOrEqual(from)),
      },
      order: { raisedAt: 'DESC' },
      take: LISTED,
    });
    return rows.map((a) => ({
      kind: 'alert',
      t: a.raisedAt,
      until: a.returnedAt,
      says: `${a.name}: ${a.condition}`,
      who: null,
      level: 'danger',
      commentId: null,
    }));
  }

  private async operations(switchId: number | null, from: number, to: number): Promise<Happening[]> {
    if (switchId === null) return [];
    const rows = await this.db.getRepository(SwitchOperationEntity).find({
      where: { switchId, at: And(MoreThanOrEqual(from), LessThan(to)) },
      order: { at: 'DESC' },
      take: LISTED,
    });
    return rows.map((o) => ({
      kind: 'switched',
      t: o.at,
      until: null,
      says: `Told to ${o.closed ? 'close' : 'open'}: ${o.reason}; ${OUTCOMES[o.outcome]}`,
      who: o.who,
      level: o.outcome === 'failed' || o.outcome === 'mismatch' ? 'danger' : 'plain',
      commentId: null,
    }));
  }

  /** Corrections that began to hold within the period. */
  private async corrections(
    points: ReturnType<DeviceBook['allPoints']>,
    from: number,
    to: number,
  ): Promise<Happening[]> {
    if (points.length === 0) return [];
    const rows = await this.db.getRepository(CorrectionEntity).find({
      where: {
        pointId: In(points.map((p) => p.id)),
        validFrom: And(MoreThanOrEqual(from), LessThan(to)),
        supersededBy: IsNull(),
        undoneAt: IsNull(),
      },
      take: LISTED,
    });
    const made = await this.db
      .getRepository(CalibrationEntity)
      .find({ where: { id: In(rows.map((r) => r.calibrationId)) }, select: { id: true, who: true } });
    return rows.map((row) => {
      const point = points.find((p) => p.id === row.pointId);
      const unit = point ? quantityInfo(point.definition.quantity).unit : '';
      return {
        kind: 'correction',
        t: row.validFrom,
        until: null,
        says: `“${point?.definition.name ?? ''}” corrected from here on: ${correctionInWords(row, unit)}`,
        who: made.find((c) => c.id === row.calibrationId)?.who ?? null,
        level: 'plain',
        commentId: null,
      };
    });
  }

  private async fittings(nodeId: number, from: number, to: number): Promise<Happening[]> {
    const rows = await this.db.getRepository(FittingEntity).find({
      where: { nodeId, at: And(MoreThanOrEqual(from), LessThan(to)) },
      order: { at: 'DESC' },
      take: LISTED,
    });
    return rows.map((f) => ({
      kind: 'fitting',
      t: f.at,
      until: null,
      says: f.says,
      who: f.who,
      level: 'plain',
      commentId: null,
    }));
  }

  private async said(nodeId: number, from: number, to: number): Promise<Happening[]> {
    const rows = await this.comments.within(nodeId, from, to);
    return rows.map((c) => ({
      kind: 'comment',
      t: c.t,
      until: null,
      says: c.text,
      who: c.who,
      level: 'plain',
      commentId: c.id,
    }));
  }
}
