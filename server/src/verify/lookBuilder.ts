import { feedsIn } from '@loka/core/installation';
import { reachOf } from '@loka/core/sensing';
import {
  sumOfTraces,
  type Circuit,
  type Line,
  type Look,
  type Metered,
  type Plate,
  type Switching,
  type Trace,
} from '@loka/core/verify';
import { Injectable } from '@nestjs/common';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import type { InstallationNodeEntity } from '../book/installationNode.entity.js';
import { powerPointsOf } from '../book/nodePoints.js';
import { SwitchBook } from '../book/switchBook.js';
import { CorrectionBook } from '../series/correctionBook.js';
import { SiteService } from '../site/site.service.js';
import { dcCurrentOf, DeviceLook, ofDcAlone } from './deviceLook.js';
import { linesOf, metersAt, meteredBy, type PlaceMeter } from './metered.js';
import { RecentReadings } from './recentReadings.js';

/** A relay and the step that it makes are read within this, ms. */
const SAME = 6000;

/** What is put together for a diagnosis: readings, and what is known of the installation around a place. */
@Injectable()
export class LookBuilder {
  constructor(
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly switches: SwitchBook,
    private readonly device: DeviceLook,
    private readonly corrections: CorrectionBook,
    private readonly recent: RecentReadings,
    private readonly sites: SiteService,
  ) {}

  /** The places at which something measures. */
  measured(): InstallationNodeEntity[] {
    return this.tree.all().filter((node) => metersAt(this.pointsOf(node.id)).length > 0);
  }

  /** The device from which a place is read; null where nothing measures it. */
  deviceAt(nodeId: number): number | null {
    const points = this.pointsOf(nodeId);
    return metersAt(points)[0]?.deviceId ?? dcCurrentOf(points)?.deviceId ?? null;
  }

  /**
   * What a diagnosis of a place looks at; null where nothing measures it.
   * @param from only readings after this instant; @param asked loads that were found to have been switched
   */
  async of(nodeId: number, from: number, asked: readonly Switching[] = []): Promise<Look | null> {
    const node = this.tree.node(nodeId);
    const points = this.pointsOf(nodeId);
    const [measuring, ...more] = node ? metersAt(points) : [];
    const meter = measuring ?? ofDcAlone(points);
    if (!node || !meter) return null;
    const site = await this.sites.require();
    const read = (place: InstallationNodeEntity, by: PlaceMeter): Metered => this.read(place, by, from);
    const up = this.tree.above(node.id);
    const below = this.nearestBelow(node.id);
    const kin = new Set([node.id, ...up.map((n) => n.id), ...this.allBelow(node.id).map((n) => n.id)]);
    const others = this.measured().filter((n) => !kin.has(n.id) && !this.isFeeding(n));
    const relay = this.relayOf(node, from);
    return {
      circuit: this.circuitOf(node, {
        nominalVoltage: site.nominalVoltage,
        frequency: site.frequency,
        system: site.supplySystem,
      }),
      own: read(node, meter),
      above: this.aboveOf(node, up, from),
      others: others.map((n) => read(n, metersAt(this.pointsOf(n.id))[0] as PlaceMeter)),
      below: below.map((n) => read(n, metersAt(this.pointsOf(n.id))[0] as PlaceMeter)),
      beside: more.map((other) => ({ ...read(node, other), name: other.name })),
      switchings: [
        ...asked,
        // What a step test had the relay do is known from it already.
        ...relay.switchings.filter((r) => !asked.some((a) => Math.abs(a.t - r.t) < SAME)),
      ],
      offSpans: relay.offSpans,
      frequency: this.frequencyOf([node, ...up], from),
      settings: this.device.settingsOf(node.id, meter),
      dc: this.device.dcOf(node.id, from),
      unused: this.device.unusedOf(meter.deviceId, from),
    };
  }

  /** The plates of what a place feeds: those of its loads, else its own. */
  platesOf(node: InstallationNodeEntity): Plate[] {
    const loads = this.tree.childrenOf(node.id).filter((n) => n.kind === 'load');
    const own: Plate = { name: node.name, watts: node.ratedPower, powerFactor: node.powerFactor };
    if (loads.every((l) => l.ratedPower === null && l.powerFactor === null)) return [own];
    return loads.map((l) => ({ name: l.name, watts: l.ratedPower, powerFactor: l.powerFactor }));
  }

  private circuitOf(
    node: InstallationNodeEntity,
    site: Pick<Circuit, 'nominalVoltage' | 'frequency' | 'system'>,
  ): Circuit {
    const points = this.pointsOf(node.id);
    return {
      ...site,
      name: node.name,
      lines: linesOf(node),
      ratedCurrent: node.ratedCurrent,
      feedsIn: node.kind === 'supply' || node.kind === 'board' || isFeeding(node, points),
      ...this.sensedBy(points),
      loads: this.platesOf(node),
    };
  }

  /** How the meter gets at the current, and how far it reads, as far as somebody has said. */
  private sensedBy(points: readonly KnownPoint[]): Pick<Circuit, 'reach' | 'range'> {
    const point = metersAt(points)[0]?.points.find(
      (p) => p.definition.quantity === 'current' || p.definition.quantity === 'active-power',
    );
    const sensing = point && this.corrections.sensingsOf(point.id).at(-1);
    if (!sensing?.kind) return { reach: null, range: null };
    return {
      reach: sensing.kind === 'direct' || sensing.kind === 'shunt' ? 'series' : 'clamp',
      range: reachOf(sensing)?.upTo ?? null,
    };
  }

  private read(node: InstallationNodeEntity, meter: PlaceMeter, from: number): Metered {
    const path = [node, ...this.tree.above(node.id)];
    return meteredBy(meter, node, {
      trace: (point) => this.recent.trace(point.id, from),
      voltageOf: (line) => this.voltageNear(path, line, from),
    });
  }

  /** The nearest metered place above, with what feeds in beside it. */
  private aboveOf(
    node: InstallationNodeEntity,
    up: readonly InstallationNodeEntity[],
    from: number,
  ): Metered | null {
    const place = up.find((n) => metersAt(this.pointsOf(n.id)).length > 0);
    if (!place) return null;
    const above = this.read(place, metersAt(this.pointsOf(place.id))[0] as PlaceMeter, from);
    const measured = this.allBelow(place.id).filter(
      (n) => n.id !== node.id && this.isFeeding(n) && powerPointsOf(this.pointsOf(n.id)).length > 0,
    );
    // An inverter has what its roof and its battery give: they are not counted beside it once more.
    const feeding = measured.filter(
      (n) => !this.tree.above(n.id).some((a) => measured.some((m) => m.id === a.id)),
    );
    const traces = feeding.flatMap((n) =>
      powerPointsOf(this.pointsOf(n.id)).map((p) => this.recent.trace(p.id, from)),
    );
    return feeding.length === 0 ? above : { ...above, fed: sumOfTraces(traces, -1) };
  }

  private voltageNear(path: readonly InstallationNodeEntity[], line: Line, from: number): Trace | null {
    for (const place of path) {
      const lines = linesOf(place);
      const point = this.pointsOf(place.id).find(
        (p) =>
          p.definition.quantity === 'voltage' &&
          (p.phase === line || (p.phase === null && lines.length === 1 && lines[0] === line)),
      );
      const trace = this.recent.trace(point?.id, from);
      if (trace.v.length > 0) return trace;
    }
    return null;
  }

  private frequencyOf(path: readonly InstallationNodeEntity[], from: number): Trace | null {
    for (const place of path) {
      const point = this.pointsOf(place.id).find((p) => p.definition.quantity === 'frequency');
      const trace = this.recent.trace(point?.id, from);
      if (trace.v.length > 0) return trace;
    }
    return null;
  }

  /** What the relay of a place did: when it switched, and when it was open. */
  private relayOf(
    node: InstallationNodeEntity,
    from: number,
  ): { switchings: Switching[]; offSpans: Look['offSpans'] } {
    const entity = this.switches.ofNode(node.id);
    const { t, v } = this.recent.trace(entity?.statePointId, from);
    const load: Plate = { name: node.name, watts: node.ratedPower, powerFactor: node.powerFactor };
    const switchings: Switching[] = [];
    const offSpans: Look['offSpans'] = [];
    v.forEach((closed, i) => {
      const at = t[i] as number;
      if (i > 0 && (closed !== 0) !== ((v[i - 1] as number) !== 0))
        switchings.push({ t: at, on: closed !== 0, load, byRelay: true });
      const span = offSpans.at(-1);
      if (closed !== 0) return;
      if (span && i > 0 && v[i - 1] === 0) span.to = at;
      else offSpans.push({ from: at, to: at });
    });
    return { switchings, offSpans };
  }

  private isFeeding(node: InstallationNodeEntity): boolean {
    return isFeeding(node, this.pointsOf(node.id));
  }

  private pointsOf(nodeId: number): KnownPoint[] {
    return this.book.allPoints().filter((p) => p.nodeId === nodeId);
  }

  private allBelow(nodeId: number): InstallationNodeEntity[] {
    return this.tree.childrenOf(nodeId).flatMap((child) => [child, ...this.allBelow(child.id)]);
  }

  /** The metered places below, none of which is below another. */
  private nearestBelow(nodeId: number): InstallationNodeEntity[] {
    return this.tree
      .childrenOf(nodeId)
      .flatMap((child) =>
        metersAt(this.pointsOf(child.id)).length > 0 ? [child] : this.nearestBelow(child.id),
      );
  }
}

const isFeeding = (node: InstallationNodeEntity, points: readonly KnownPoint[]): boolean =>
  feedsIn(
    node,
    points.map((p) => ({ quantity: p.definition.quantity, phase: p.phase })),
  );
