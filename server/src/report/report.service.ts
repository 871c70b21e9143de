import type { NodeEnergy } from '@loka/contract/energy';
import type { InstallationNode } from '@loka/contract/installation';
import type { PlaceProfile } from '@loka/contract/profile';
import type { EnergyReport, ReportFigures, ReportUse } from '@loka/contract/report';
import { dayKindAt } from '@loka/core/profile';
import { besideOf, CalendarError, periodOf, type Beside, type Period, type TimeSpan } from '@loka/core/time';
import { Injectable } from '@nestjs/common';
import { AlertsService } from '../alerts/alerts.service.js';
import { BalanceService } from '../balance/balance.service.js';
import { DeviceBook } from '../book/deviceBook.js';
import { EnergyService } from '../energy/energy.service.js';
import { InstallationService } from '../installation/installation.service.js';
import { invalidField, notFound } from '../problem/errors.js';
import { PlacePower } from '../profile/placePower.js';
import { ProfileService } from '../profile/profile.service.js';
import type { SiteEntity } from '../site/site.entity.js';
import { SiteService } from '../site/site.service.js';

type Node = ReturnType<InstallationService['list']>[number];

const DAY = 86_400_000;
const QUARTER = 900_000;
const LONGEST = 366 * DAY;
/** As many loads as are told one by one. */
const LOADS = 6;
/** Of a place so much has to be read before its days are told of. */
const COMPARED = 0.5;
/** Less than this of the period is told of. */
const KNOWN = 0.99;
/** What takes less is left out of the ranking, Wh. */
const LEAST = 0.5;
/** Of the peak parts below this share are left out. */
const PEAK_PART = 0.02;

/** What a place took over a period, and what stands out: out of what was recorded. */
@Injectable()
export class ReportService {
  constructor(
    private readonly sites: SiteService,
    private readonly installation: InstallationService,
    private readonly book: DeviceBook,
    private readonly energy: EnergyService,
    private readonly balance: BalanceService,
    private readonly profiles: ProfileService,
    private readonly power: PlacePower,
    private readonly alerts: AlertsService,
  ) {}

  /**
   * @param period as it stands in an address: 2026-10, or a name
   * @throws Problem where the place is not there, nothing measures it, or the period is none, too long, or lies in the future
   */
  async of(nodeId: number, period: string, now = Date.now()): Promise<EnergyReport> {
    const site = await this.sites.require();
    const nodes = this.installation.list();
    const node = nodes.find((n) => n.id === nodeId);
    if (!node) throw notFound('place in the installation', nodeId);
    const { span } = this.chosen(site.timeZone, period, now);
    const [from, to] = [span.start, Math.min(span.end, now)];
    const behind = within(nodes, nodeId);
    const profile = plain(await this.profiles.of(nodeId, from, to));
    const energies = await this.energy.ofNodes(from, to);
    const [before, lastYear] = await Promise.all([
      this.beside(site, period, now, 'before', nodeId),
      this.beside(site, period, now, 'year', nodeId),
    ]);
    const uses = await this.uses(nodes, behind, { start: from, end: to }, energies, [
      before?.span ?? null,
      lastYear?.span ?? null,
    ]);
    const loads = await this.loads(uses, nodes, from, to);
    return {
      nodeId,
      place: node.name,
      path: pathOf(nodes, node),
      site: {
        name: site.name,
        timeZone: site.timeZone,
        currency: site.currency,
        price: site.price,
        carbon: site.carbon,
        closedDays: site.closedDays,
        holidays: site.holidays,
      },
      period,
      from,
      to,
      madeAt: now,
      ended: span.end <= now,
      total: totalOf(energies, nodeId, profile, { start: from, end: to }),
      before: before?.figures ?? null,
      lastYear: lastYear?.figures ?? null,
      uses,
      days: await this.days(site, nodeId, from, to),
      profile,
      peak: await this.peak(profile, uses, nodes),
      loads,
      alerts: await this.alertsOf(node, behind, from, to),
      partly: energies
        .filter((e) => behind.has(e.nodeId) && e.source !== null && e.coverage < KNOWN)
        .map((e) => ({ name: nameOf(nodes, e.nodeId), coverage: e.coverage }))
        .sort((a, b) => a.coverage - b.coverage),
    };
  }

  private chosen(zone: string, period: string, now: number): Period {
    let found: Period;
    try {
      found = periodOf(zone, period, now);
    } catch (error) {
      if (error instanceof CalendarError) throw invalidField('period', `${error.message}.`);
      throw error;
    }
    const { start, end } = found.span;
    if (start >= now) throw invalidField('period', 'That lies in the future: nothing was read yet.');
    if (end - start > LONGEST) throw invalidField('period', 'Choose a year at most.');
    return found;
  }

  /** What the place took in the period that is set beside; null where too little of it was read. */
  private async beside(
    { timeZone }: SiteEntity,
    period: string,
    now: number,
    how: Beside,
    nodeId: number,
  ): Promise<{ span: TimeSpan; figures: ReportFigures } | null> {
    const { span, until } = besideOf(timeZone, period, now, how);
    const then = { start: span.start, end: until };
    if (then.end <= then.start) return null;
    const energies = await this.energy.ofNodes(then.start, then.end, [nodeId]);
    const found = energies.find((e) => e.nodeId === nodeId && e.source !== null && e.coverage > 0);
    if (!found) return null;
    return { span: then, figures: { ...figuresOf(found), from: then.start, to: then.end } };
  }

  private async uses(
    nodes: readonly Node[],
    behind: ReadonlySet<number>,
    span: TimeSpan,
    energies: readonly NodeEnergy[],
    [before, lastYear]: readonly (TimeSpan | null)[],
  ): Promise<ReportUse[]> {
    const [now, then, aYearAgo] = await Promise.all([
      this.balance.ofPeriod(span.start, span.end, 'month'),
      this.ratesOf(before ?? null),
      this.ratesOf(lastYear ?? null),
    ]);
    const isUse = (use: (typeof now.uses)[number]) =>
      behind.has(use.nodeId) &&
      (use.kind === 'unmetered' ||
        (use.kind === 'takes' && nodes.find((n) => n.id === use.nodeId)?.purposeShown !== 'storage'));
    const found = now.uses.filter(isUse).flatMap((use): ReportUse[] => {
      const energy = sum(use.values);
      if (energy === null || Math.abs(energy) < LEAST) return [];
      const { key, nodeId } = use;
      const unmetered = use.kind === 'unmetered';
      return [
        {
          key,
          nodeId,
          name: `${unmetered ? 'Not metered on ' : ''}${nameOf(nodes, nodeId)}`,
          unmetered,
          energy,
          perDay: aDay(energy, energies, nodeId, span),
          before: then.get(key) ?? null,
          lastYear: aYearAgo.get(key) ?? null,
          coverage: energies.find((e) => e.nodeId === nodeId)?.coverage ?? 0,
        },
      ];
    });
    return found.length > 1 ? found.sort((a, b) => b.energy - a.energy) : [];
  }

  /** What each use took a day over a span, Wh, where enough of it was read. What nobody meters is known as far as the meter of its bar. */
  private async ratesOf(span: TimeSpan | null): Promise<Map<string, number | null>> {
    if (!span) return new Map();
    const [{ uses }, energies] = await Promise.all([
      this.balance.ofPeriod(span.start, span.end, 'month'),
      this.energy.ofNodes(span.start, span.end),
    ]);
    return new Map(
      uses.map(({ key, nodeId, values }) => {
        const energy = sum(values);
        return [key, energy === null ? null : aDay(energy, energies, nodeId, span)];
      }),
    );
  }

  private async loads(
    uses: readonly ReportUse[],
    nodes: readonly Node[],
    from: number,
    to: number,
  ): Promise<EnergyReport['loads']> {
    const told = uses
      .filter((u) => !u.unmetered && u.energy > 0 && this.power.isMeasured(u.nodeId))
      .slice(0, LOADS);
    const loads: EnergyReport['loads'] = [];
    for (const { nodeId } of told)
      loads.push({
        nodeId,
        name: nameOf(nodes, nodeId),
        profile: plain(await this.profiles.of(nodeId, from, to)),
      });
    return loads;
  }

  private async days(
    site: SiteEntity,
    nodeId: number,
    from: number,
    to: number,
  ): Promise<EnergyReport['days']> {
    const { borders, nodes } = await this.energy.calendar(from, to, 'day', [nodeId]);
    const own = nodes.find((n) => n.nodeId === nodeId);
    return borders.slice(1).map((end, i) => ({
      start: borders[i] as number,
      end,
      taken: own?.import[i] ?? null,
      given: own?.export[i] ?? null,
      kind: dayKindAt(site.timeZone, borders[i] as number, site),
    }));
  }

  /** What took how much in the highest quarter-hour. */
  private async peak(
    profile: PlaceProfile,
    uses: readonly ReportUse[],
    nodes: readonly Node[],
  ): Promise<EnergyReport['peak']> {
    const highest = profile.demand.find((d) => d.block === QUARTER)?.highest;
    if (!highest || highest.watts <= 0) return null;
    const ids = uses.filter((u) => !u.unmetered && this.power.isMeasured(u.nodeId)).map((u) => u.nodeId);
    const spans = ids.length === 0 ? [] : await this.power.spans(ids, highest.at, highest.at + QUARTER);
    const parts = spans.flatMap(({ mean }, i) => {
      const known = [...mean].filter((w) => !Number.isNaN(w));
      const watts = known.reduce((a, b) => a + b, 0) / known.length;
      return watts >= PEAK_PART * highest.watts ? [{ name: nameOf(nodes, ids[i] as number), watts }] : [];
    });
    return { ...highest, parts: parts.sort((a, b) => b.watts - a.watts) };
  }

  private async alertsOf(
    node: Node,
    behind: ReadonlySet<number>,
    from: number,
    to: number,
  ): Promise<EnergyReport['alerts']> {
    const placeOf = new Map(this.book.allPoints().map((p) => [p.id, p.nodeId]));
    const isOfIt = (pointId: number | null) => {
      const place = pointId === null ? null : (placeOf.get(pointId) ?? null);
      // What is of no place belongs to the whole site.
      return place === null ? node.parentId === null : behind.has(place);
    };
    return (await this.alerts.within(from, to))
      .filter((a) => isOfIt(a.pointId))
      .map(({ name, condition, raisedAt, returnedAt }) => ({ name, condition, raisedAt, returnedAt }));
  }
}

/** Its runs one by one are not told in a report. */
const plain = (profile: PlaceProfile): PlaceProfile => ({
  ...profile,
  runs: profile.runs && { ...profile.runs, list: [] },
});

const nameOf = (nodes: readonly InstallationNode[], id: number): string =>
  nodes.find((n) => n.id === id)?.name ?? 'a place that is gone';

function pathOf(nodes: readonly Node[], node: Node): string[] {
  const above = nodes.find((n) => n.id === node.parentId);
  return above ? [...pathOf(nodes, above), above.name] : [];
}

/** The place and all that hangs on it. */
function within(nodes: readonly Node[], nodeId: number): Set<number> {
  const found = new Set([nodeId]);
  // Each round finds the next level down; nothing hangs on itself.
  for (let size = 0; size !== found.size;) {
    size = found.size;
    for (const n of nodes) if (n.parentId !== null && found.has(n.parentId)) found.add(n.id);
  }
  return found;
}

const figuresOf = ({ import: taken, export: given, coverage }: NodeEnergy) => ({ taken, given, coverage });

/** Of a place without a meter by the sum of what is measured behind it. */
function totalOf(
  energies: readonly NodeEnergy[],
  nodeId: number,
  profile: PlaceProfile,
  { start, end }: TimeSpan,
): ReportFigures {
  const own = energies.find((e) => e.nodeId === nodeId);
  if (own?.source) return { from: start, to: end, ...figuresOf(own) };
  return {
    from: start,
    to: end,
    taken: profile.known > 0 ? Math.max(0, profile.energy) : null,
    given: profile.known > 0 ? Math.max(0, -profile.energy) : null,
    coverage: profile.known / Math.max(1, end - start),
  };
}

/** Wh a day of what was read of a place; null where that is less than half of the span. */
function aDay(
  wh: number,
  energies: readonly NodeEnergy[],
  nodeId: number,
  { start, end }: TimeSpan,
): number | null {
  const known = energies.find((e) => e.nodeId === nodeId)?.coverage ?? 0;
  return known < COMPARED ? null : (wh * DAY) / (known * (end - start));
}

const sum = (values: readonly (number | null)[]): number | null =>
  values.every((v) => v === null) ? null : values.reduce<number>((s, v) => s + (v ?? 0), 0);
