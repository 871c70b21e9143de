import type { PlaceVoltage } from '@loka/contract/profile';
import { isReadable } from '@loka/core/points';
import { profileCalendar, voltageFigures, weeksOf, type VoltageSpans } from '@loka/core/profile';
import { Injectable } from '@nestjs/common';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { SiteService } from '../site/site.service.js';
import { BY_MINUTES, PlacePower } from './placePower.js';

const LINES = ['L1', 'L2', 'L3', null];

/** How voltages keep to their band. */
@Injectable()
export class VoltageService {
  constructor(
    private readonly power: PlacePower,
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly sites: SiteService,
  ) {}

  /** @throws Problem where the place is not there, no voltage of it is measured, or the period lies in the future or is too long */
  async of(nodeId: number, from: number, to: number): Promise<PlaceVoltage> {
    const node = this.tree.node(nodeId);
    if (!node) throw notFound('place in the installation', nodeId);
    const points = this.pointsOf(nodeId);
    if (points.length === 0)
      throw new Problem('nothing-measured', `Nothing measures a voltage of “${node.name}”.`);
    if (to - from > BY_MINUTES)
      throw invalidField('to', 'Ten-minute means are made of two months at most. Choose a shorter period.');
    const all = await this.power.spansOf(
      points.map((p) => [p.id]),
      from,
      to,
    );
    const { timeZone, nominalVoltage } = await this.sites.require();
    const [{ start, step, length }] = all as [VoltageSpans];
    const weeks = weeksOf(profileCalendar(timeZone, all[0] as VoltageSpans));
    return {
      nodeId,
      from: start,
      to: start + length * step,
      nominal: nominalVoltage,
      phases: points.map((point, i) => {
        const figures = voltageFigures(all[i] as VoltageSpans, nominalVoltage, weeks);
        return {
          ...figures,
          phase: point.phase,
          readEvery: this.power.readEvery([point], from, to),
          means: Array.from(figures.means, (v) => (Number.isNaN(v) ? null : Math.round(10 * v) / 10)),
        };
      }),
    };
  }

  /** One of each line, in their order. */
  private pointsOf(nodeId: number): KnownPoint[] {
    const all = this.book
      .allPoints()
      .filter((p) => p.nodeId === nodeId && p.definition.quantity === 'voltage' && isReadable(p.definition));
    return LINES.flatMap((line) => all.find((p) => p.phase === line) ?? []);
  }
}
