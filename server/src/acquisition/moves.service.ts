import type { MovedPoint, MovesInput } from '@loka/contract/acquisition';
import { byPlainness, moveWith } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { DeviceBook } from '../book/deviceBook.js';
import { Journal } from '../series/journal.js';
import { Intake } from './intake.js';

/** Finds out which values follow a load that is switched on and off. */
@Injectable()
export class MovesService {
  constructor(
    private readonly book: DeviceBook,
    private readonly intake: Intake,
    private readonly journal: Journal,
  ) {}

  /** The values of the devices, those that follow the marks most plainly first. */
  async rank({ deviceIds, marks, until }: MovesInput): Promise<MovedPoint[]> {
    await this.intake.stored();
    const points = this.book.allPoints().filter((p) => p.deviceId !== null && deviceIds.includes(p.deviceId));
    const sorted = [...marks].sort((a, b) => a.t - b.t);
    const from = sorted[0]?.t ?? until;
    const series = await this.journal.readMany(
      points.map((p) => p.id),
      from,
      until,
    );
    return points
      .flatMap(({ id: pointId }) => {
        const move = moveWith(series.get(pointId) ?? [], sorted, until);
        return move ? [{ pointId, ...move }] : [];
      })
      .sort(byPlainness);
  }
}
