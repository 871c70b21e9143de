import { isReadable } from '@loka/core/points';
import type { FormerPoint, PlacedPoint, Point, PointAssignment } from '@loka/contract/points';
import { Injectable } from '@nestjs/common';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { PointEntity } from '../book/point.entity.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { invalidField, notFound } from '../problem/errors.js';
import { CorrectionBook } from '../series/correctionBook.js';
import { PointMoves } from './pointMoves.js';

/** The points of all devices, and where in the installation they belong. */
@Injectable()
export class PointsService {
  constructor(
    private readonly book: DeviceBook,
    private readonly corrections: CorrectionBook,
    private readonly installation: InstallationBook,
    private readonly moves: PointMoves,
    private readonly changes: ChangeFeed,
  ) {}

  points(): Point[] {
    return this.book.allPoints().map((point) => this.toPoint(point));
  }

  /** What was read at a place before, newest first: points that were removed. */
  formerPoints(nodeId: number): FormerPoint[] {
    return this.book
      .formerPoints()
      .filter((p) => p.nodeId === nodeId && isReadable(p.definition))
      .sort((a, b) => b.removedAt - a.removedAt)
      .map((point) => ({ ...this.toPoint(point), removedAt: point.removedAt }));
  }

  async assign(id: number, assignment: PointAssignment): Promise<Point> {
    if (!this.book.point(id)) throw notFound('point', id);
    await this.assignEach([{ id, ...assignment }]);
    return this.toPoint(this.book.point(id) as KnownPoint);
  }

  /** Gives points their places: all of them, or none when one cannot be. */
  async assignEach(placed: readonly PlacedPoint[]): Promise<void> {
    for (const { id, nodeId } of placed) {
      if (!this.book.point(id)) throw invalidField('points', `There is no point ${id}.`);
      this.refuseUnknownPlace(nodeId);
    }
    const moves = this.moves.of(placed);
    await this.book.pointRows.manager.transaction(async (manager) => {
      for (const { id, nodeId, phase } of placed)
        await manager.update(PointEntity, id, { nodeId: nodeId ?? null, phase: phase ?? null });
    });
    await this.afterAssignment();
    await this.moves.putDown(moves);
  }

  /** Gives all points of a device to one place; what was said of their conductors stays. */
  async assignAll(deviceId: number, nodeId: number | null): Promise<Point[]> {
    if (!(await this.book.devices.existsBy({ id: deviceId }))) throw notFound('device', deviceId);
    this.refuseUnknownPlace(nodeId);
    const moves = this.moves.of(
      this.book
        .allPoints()
        .filter((p) => p.deviceId === deviceId)
        .map(({ id }) => ({ id, nodeId })),
    );
    await this.book.pointRows.update({ deviceId }, { nodeId });
    await this.afterAssignment();
    await this.moves.putDown(moves);
    return this.points().filter((p) => p.deviceId === deviceId);
  }

  /** @throws Problem */
  refuseUnknownPlace(nodeId: number | null | undefined): void {
    if (nodeId != null && !this.installation.node(nodeId))
      throw invalidField('nodeId', 'That circuit is no longer there.');
  }

  private async afterAssignment(): Promise<void> {
    await this.book.reload();
    this.changes.say('devices', 'installation');
  }

  private toPoint({ id, deviceId, deviceName, key, definition, nodeId, phase }: KnownPoint): Point {
    return {
      id,
      deviceId,
      deviceName,
      key,
      definition,
      nodeId,
      phase,
      calibrated: this.corrections.has(id),
      copied: this.corrections.isCopied(id),
    };
  }
}
