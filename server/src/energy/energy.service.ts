import type { NodeEnergy, Sparkline } from '@loka/contract/installation';
import { counterStep, energyOfMean } from '@loka/core/energy';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { DeviceBook, type KnownPoint } from '../devices/deviceBook.js';
import { InstallationBook } from '../installation/installationBook.js';
import { energyPointOf, powerPointsOf } from '../installation/nodePoints.js';

/** Above this mean power a counter's increment is a fault, not a load: 3 × 125 A at 230 V (trade). */
const LARGEST_WATTS = 86_250;
const HOUR = 3_600_000;

/** Energy of the places of the installation over a period. */
@Injectable()
export class EnergyService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
  ) {}

  /**
   * Energy of every metered place in [from, to). Taken from the meter's own counter where there is one, because
   * a counter knows what happened in a gap; else from the mean power of the covered time.
   */
  async ofNodes(from: number, to: number): Promise<NodeEnergy[]> {
    const span = Math.min(to, Date.now()) - from;
    const points = this.book.allPoints();
    const power = await this.powerSums(points, from, to);
    return Promise.all(
      this.tree.all().map(async (node) => {
        const own = points.filter((p) => p.nodeId === node.id);
        const counter = energyPointOf(own);
        const counted = counter ? await this.counted(counter, from, to) : null;
        if (counted !== null) return { nodeId: node.id, energy: counted, coverage: 1 };
        const sums = powerPointsOf(own)
          .map((p) => power.get(p.id))
          .filter((s) => s !== undefined);
        if (sums.length === 0) return { nodeId: node.id, energy: null, coverage: 0 };
        return {
          nodeId: node.id,
          energy: sums.reduce((sum, s) => sum + energyOfMean(s.area / s.covered, s.covered), 0),
          coverage: span > 0 ? Math.min(1, Math.min(...sums.map((s) => s.covered)) / span) : 0,
        };
      }),
    );
  }

  /** Mean power of every metered place in `parts` equal spans of [from, to). */
  async sparklines(from: number, to: number, parts: number): Promise<Sparkline[]> {
    const points = this.book.allPoints();
    const wanted = this.tree
      .all()
      .map((node) => ({ node, power: powerPointsOf(points.filter((p) => p.nodeId === node.id)) }));
    const ids = wanted.flatMap((w) => w.power.map((p) => p.id));
    if (ids.length === 0) return [];
    const width = (to - from) / parts;
    const rows: { pointId: number; part: number; mean: number }[] = await this.db.query(
      `SELECT pointId, FLOOR((t - ?) / ?) AS part, SUM(mean * covered) / SUM(covered) AS mean
       FROM rollups_1m WHERE pointId IN (?) AND t >= ? AND t < ? GROUP BY pointId, part`,
      [from, width, ids, from, to],
    );
    const byPoint = new Map<number, Map<number, number>>();
    for (const { pointId, part, mean } of rows)
      byPoint.set(pointId, (byPoint.get(pointId) ?? new Map<number, number>()).set(Number(part), mean));
    return wanted
      .filter((w) => w.power.length > 0)
      .map(({ node, power }) => ({
        nodeId: node.id,
        values: Array.from({ length: parts }, (_, part) => {
          const means = power.map((p) => byPoint.get(p.id)?.get(part));
          return means.some((m) => m === undefined)
            ? null
            : means.reduce<number>((sum, m) => sum + (m as number), 0);
        }),
      }));
  }

  private async powerSums(
    points: readonly KnownPoint[],
    from: number,
    to: number,
  ): Promise<Map<number, { area: number; covered: number }>> {
    const ids = points.filter((p) => p.definition.quantity === 'active-power').map((p) => p.id);
    if (ids.length === 0) return new Map();
    const rows: { pointId: number; area: number; covered: string }[] = await this.db.query(
      'SELECT pointId, SUM(mean * covered) AS area, SUM(covered) AS covered FROM rollups_1m WHERE pointId IN (?) AND t >= ? AND t < ? GROUP BY pointId',
      [ids, from, to],
    );
    return new Map(rows.map((r) => [r.pointId, { area: r.area, covered: Number(r.covered) }]));
  }

  /** What a counter has counted in [from, to), Wh; null when it has no reading in the period. */
  private async counted({ id }: KnownPoint, from: number, to: number): Promise<number | null> {
    const rows: { t: number; last: number }[] = await this.db.query(
      `(SELECT t, last FROM rollups_1m WHERE pointId = ? AND t < ? AND t >= ? ORDER BY t DESC LIMIT 1)
       UNION ALL (SELECT t, last FROM rollups_1m WHERE pointId = ? AND t >= ? AND t < ?) ORDER BY t`,
      [id, from, from - 24 * HOUR, id, from, to],
    );
    if (rows.length < 2) return null;
    return rows.slice(1).reduce((sum, row, i) => {
      const before = rows[i] as { t: number; last: number };
      return (
        sum +
        counterStep(before.last, row.last, {
          modulus: null,
          largest: (LARGEST_WATTS * (row.t - before.t)) / HOUR,
        }).increment
      );
    }, 0);
  }
}
