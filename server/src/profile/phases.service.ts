import type { PlacePhases } from '@loka/contract/profile';
import { isReadable } from '@loka/core/points';
import type { PowerSpans } from '@loka/core/profile';
import { Injectable } from '@nestjs/common';
import { DeviceBook } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { powerPointsOf } from '../book/nodePoints.js';
import { notFound, Problem } from '../problem/errors.js';
import { SiteService } from '../site/site.service.js';
import { PlacePower } from './placePower.js';
import { ProfileThread } from './profileThread.js';

const LINES = ['L1', 'L2', 'L3'];

/** How the lines of a place are loaded, and which circuit would better be on another. */
@Injectable()
export class PhasesService {
  constructor(
    private readonly power: PlacePower,
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly sites: SiteService,
    private readonly thread: ProfileThread,
  ) {}

  /** @throws Problem where the place is not there, the power of its three lines is not measured, or the period lies in the future or is too long */
  async of(nodeId: number, from: number, to: number): Promise<PlacePhases> {
    const node = this.tree.node(nodeId);
    if (!node) throw notFound('place in the installation', nodeId);
    const points = this.book.allPoints();
    const lines = LINES.flatMap(
      (line) =>
        points.find(
          (p) =>
            p.nodeId === nodeId &&
            p.phase === line &&
            p.definition.quantity === 'active-power' &&
            isReadable(p.definition),
        ) ?? [],
    );
    if (lines.length < LINES.length)
      throw new Problem('nothing-measured', `Nothing measures the power of each line of “${node.name}”.`);
    const circuits = this.below(nodeId).flatMap(({ id, kind, phases }) => {
      const own = powerPointsOf(points.filter((p) => p.nodeId === id)).map((p) => p.id);
      const line = LINES.indexOf(phases);
      return kind === 'circuit' && line >= 0 && own.length > 0 ? [{ id, line, own }] : [];
    });
    const all = await this.power.spansOf(
      [...lines.map((p) => [p.id]), ...circuits.map((c) => c.own)],
      from,
      to,
    );
    const [a, b, c, ...powers] = all as [PowerSpans, PowerSpans, PowerSpans, ...PowerSpans[]];
    const { nominalVoltage } = await this.sites.require();
    const phases = await this.thread.work('phases', {
      lines: [a, b, c],
      circuits: circuits.map(({ line }, i) => ({ line, power: powers[i] as PowerSpans })),
      nominal: nominalVoltage,
    });
    return {
      nodeId,
      from: a.start,
      to: a.start + a.length * a.step,
      phases,
      circuits: circuits.map(({ id }) => id),
    };
  }

  private below(nodeId: number): ReturnType<InstallationBook['childrenOf']> {
    return this.tree.childrenOf(nodeId).flatMap((child) => [child, ...this.below(child.id)]);
  }
}
