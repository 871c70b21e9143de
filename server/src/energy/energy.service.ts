import type {
  EnergyCalendar,
  EnergyFigures,
  EnergySource,
  NodeEnergy,
  Sparkline,
} from '@loka/contract/energy';
import {
  addBeside,
  bothDirections,
  energyAt,
  energyOfCounts,
  energyOfSlots,
  leaveOut,
  type EnergyParts,
} from '@loka/core/energy';
import { HOUR, meanAt, MINUTE, QUARTER, slotAt, spanEnd, spanStart } from '@loka/core/series';
import { calendarBorders, type CalendarStep } from '@loka/core/time';
import { Injectable } from '@nestjs/common';
import { group } from 'd3-array';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { counterPointsOf, powerPointsOf } from '../book/nodePoints.js';
import { Counters } from '../series/counters.js';
import { SlotReader, type Blocks } from '../series/slotReader.js';
import { VerdictBook } from '../series/verdictBook.js';
import { WiringBook } from '../book/wiringBook.js';
import { invalidField } from '../problem/errors.js';
import { SiteService } from '../site/site.service.js';

/** What may flow out of a place before a counter of what flows in does not tell all: this share of it, and this much, Wh. */
const EXPORT_SHARE = 0.01;
const EXPORT_LEAST = 10;
/** A power that is known for this much longer than its counter is taken. */
const MORE = 1.02;
const DAY = 24 * HOUR;
/** Shortest part of each step, ms, and so many of them are told at a time: a year of quarters. */
const LEAST: Record<CalendarStep, number> = {
  quarter: QUARTER,
  hour: HOUR,
  day: 20 * HOUR,
  month: 27 * DAY,
};
const MOST_PARTS = 40_000;
/** From so many whole days on, the source that is not taken is not read. */
const LONG = 7 * DAY;

/** Points from which the energy of a place comes. */
interface Sources {
  nodeId: number;
  power: KnownPoint[];
  importing: KnownPoint[];
  exporting: KnownPoint[];
}

interface BySource {
  counter: EnergyParts | null;
  power: EnergyParts | null;
}

/** Energy of the places of the installation, from what their counters have counted and from their power. */
@Injectable()
export class EnergyService {
  constructor(
    private readonly slots: SlotReader,
    private readonly counters: Counters,
    private readonly verdicts: VerdictBook,
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly sites: SiteService,
    private readonly wiring: WiringBook,
  ) {}

  /** Energy of every place over [from, to), with what its other source says. @param only of these places alone */
  async ofNodes(from: number, to: number, only?: readonly number[]): Promise<NodeEnergy[]> {
    const borders = [from, to];
    const isAsked = (nodeId: number) => only === undefined || only.includes(nodeId);
    const sources = this.sources().filter((s) => isAsked(s.nodeId));
    const found = await this.bySource(sources, borders);
    const span = Math.max(0, Math.min(to, Date.now()) - from);
    const nodes = this.tree.all().filter((n) => isAsked(n.id));
    return nodes.map((node) => {
      const both = found.get(node.id) ?? { counter: null, power: null };
      const source = chosen(both);
      const told = (which: EnergySource | null) => figuresOf(which && both[which], span);
      const other = source === 'counter' ? 'power' : 'counter';
      return {
        nodeId: node.id,
        source,
        ...told(source),
        other: source !== null && isKnown(both[other]?.net) ? { source: other, ...told(other) } : null,
        uncertainSince: this.uncertainSince(node.id, from, to),
      };
    });
  }

  private uncertainSince(nodeId: number, from: number, to: number): number | null {
    const since = this.wiring.fault(nodeId)?.since;
    return since === undefined || since >= to ? null : Math.max(since, from);
  }

  /** Energy of every place by quarter, hour, day or month of the site's calendar. @param only of these places alone */
  async calendar(
    from: number,
    to: number,
    step: CalendarStep,
    only?: readonly number[],
  ): Promise<EnergyCalendar> {
    const most = (to - from) / LEAST[step];
    if (most > MOST_PARTS)
      throw invalidField(
        'step',
        `That is ${Math.ceil(most)} parts, and at most ${MOST_PARTS} are given at a time. Choose a longer step or a shorter period.`,
      );
    const { timeZone } = await this.sites.require();
    const inside = calendarBorders(timeZone, from, to, step).filter((t) => t > from && t < to);
    const borders = [from, ...inside, to];
    const now = Date.now();
    const spans = borders.slice(1).map((end, i) => Math.max(0, Math.min(end, now) - (borders[i] as number)));
    const sources = this.sources().filter((s) => only === undefined || only.includes(s.nodeId));
    const found = await this.longSources(sources, from, to, borders);
    return {
      borders,
      nodes: [...found].flatMap(([nodeId, both]) => {
        const source = chosen(both);
        const parts = source === null ? null : both[source];
        if (source === null || !parts) return [];
        return [{ nodeId, source, ...columnsOf(parts, spans) }];
      }),
    };
  }

  /** Mean power of every metered place in `parts` equal spans of [from, to). */
  async sparklines(from: number, to: number, parts: number): Promise<Sparkline[]> {
    const wanted = this.sources().filter((s) => s.power.length > 0);
    const ids = wanted.flatMap((w) => w.power.map((p) => p.id));
    const step = (to - from) / parts;
    const found = await this.slots.read(ids, from, to, 'flow', step < QUARTER ? MINUTE : QUARTER);
    const means = new Map(
      [...found].map(([id, blocks]) => [id, meansOf(blocks, from, step, parts)] as const),
    );
    return wanted.map(({ nodeId, power }) => ({
      nodeId,
      values: Array.from({ length: parts }, (_, part) =>
        power.reduce<number | null>((sum, { id }) => {
          const mean = means.get(id)?.[part];
          return sum === null || mean === undefined || Number.isNaN(mean) ? null : sum + mean;
        }, 0),
      ),
    }));
  }

  /**
   * As {@link bySource}, for a period that may be long: of a place with a counter and a power, the one that is not taken
   * is not read, wherever the sums of days tell which one that is.
   */
  private async longSources(
    sources: readonly Sources[],
    from: number,
    to: number,
    borders: readonly number[],
  ): Promise<Map<number, BySource>> {
    const taken = await this.takenByDaySums(
      sources.filter((s) => s.importing.length > 0 && s.power.length > 0),
      from,
      Math.min(to, Date.now()),
    );
    const found = await this.bySource(
      sources.map((s) => {
        const source = taken.get(s.nodeId);
        if (source === 'counter') return { ...s, power: [] };
        return source === 'power' ? { ...s, importing: [], exporting: [] } : s;
      }),
      borders,
    );
    // A counter that has told nothing, or not of what flowed out although there is one for that, leaves it to the power.
    const silent = sources.filter(({ nodeId, exporting }) => {
      const counter = found.get(nodeId)?.counter ?? null;
      return (
        taken.get(nodeId) === 'counter' &&
        !(exporting.length > 0 ? isKnown(counter?.export) : isKnown(counter?.net))
      );
    });
    if (silent.length > 0)
      for (const [nodeId, { power }] of await this.bySource(
        silent.map((s) => ({ ...s, importing: [], exporting: [] })),
        borders,
      ))
        found.set(nodeId, { counter: found.get(nodeId)?.counter ?? null, power });
    return found;
  }

  /** Which source is taken for places with a counter and a power, as far as the sums of whole days tell that. */
  private async takenByDaySums(
    sources: readonly Sources[],
    from: number,
    to: number,
  ): Promise<Map<number, EnergySource>> {
    const taken = new Map<number, EnergySource>();
    for (const s of sources) if (s.exporting.length > 0) taken.set(s.nodeId, 'counter');
    const asked = sources.filter((s) => s.exporting.length === 0);
    const [first, last] = [spanEnd(from, DAY), spanStart(to, DAY)];
    if (asked.length === 0 || last - first < LONG) return taken;
    const sums = await this.slots.daySums(
      asked.flatMap((s) => s.power.map((p) => p.id)),
      first,
      last,
    );
    const told = asked.filter((s) => s.power.every((p) => sums.has(p.id)));
    const ids = told.flatMap((s) => s.power.map((p) => p.id));
    const edges = await Promise.all([
      this.slots.read(ids, from, first, 'flow'),
      this.slots.read(ids, last, to, 'flow'),
    ]);
    for (const { nodeId, power } of told) {
      let [imported, exported] = [0, 0];
      for (const { id } of power) {
        const blocks = edges.flatMap((edge) => edge.get(id) ?? []);
        const edge = energyAt(energyOfSlots(blocks, [from, to]), 0);
        const days = sums.get(id) as { imported: number; exported: number };
        imported += days.imported + (edge.import ?? 0);
        exported += days.exported + (edge.export ?? 0);
      }
      taken.set(nodeId, flowsOut(imported, exported) ? 'power' : 'counter');
    }
    return taken;
  }

  private sources(): Sources[] {
    const points = this.book.allPoints();
    return this.tree.all().map(({ id: nodeId }) => {
      const own = points.filter((p) => p.nodeId === nodeId);
      return {
        nodeId,
        power: powerPointsOf(own),
        importing: counterPointsOf(own, 'energy-import'),
        exporting: counterPointsOf(own, 'energy-export'),
      };
    });
  }

  private async bySource(
    sources: readonly Sources[],
    borders: readonly number[],
  ): Promise<Map<number, BySource>> {
    const from = borders[0] as number;
    const to = borders.at(-1) as number;
    const counters = sources.flatMap((s) => [...s.importing, ...s.exporting]);
    const counterIds = counters.map((p) => p.id);
    const [slots, counts, spans] = await Promise.all([
      this.slots.read(
        sources.flatMap((s) => s.power.map((p) => p.id)),
        from,
        to,
        'flow',
      ),
      this.slots.counts(counterIds, from, to),
      this.counters.spans(counterIds, from, to),
    ]);
    const gaps = group(spans, (s) => s.pointId);
    const counted = new Map<number, EnergyParts>();
    for (const point of counters) {
      const factor = await this.factorOf(point, from, to);
      const parts = energyOfCounts(counts.get(point.id) ?? [], gaps.get(point.id) ?? [], borders, factor);
      counted.set(point.id, leaveOut(parts, borders, this.verdicts.of(point.id)));
    }
    return new Map(
      sources.map((s) => [
        s.nodeId,
        {
          power: sumOf(s.power.map((p) => energyOfSlots(slots.get(p.id) ?? [], borders))),
          counter: inAndOut(
            sumOf(s.importing.map((p) => counted.get(p.id) as EnergyParts)),
            sumOf(s.exporting.map((p) => counted.get(p.id) as EnergyParts)),
          ),
        },
      ]),
    );
  }

  /** By how much what a counter has counted is to be multiplied: its own correction, or that of the power it counts. */
  private async factorOf(
    point: KnownPoint,
    from: number,
    to: number,
  ): Promise<((t: number) => number) | null> {
    if (this.slots.hasLine(point.id)) return (t) => this.slots.gainOf(point.id, t);
    return this.slots.scaleOf(this.powerBehind(point), from, to);
  }

  /** The power of the same device on the same conductor, from which a counter counts. */
  private powerBehind(counter: KnownPoint): number[] {
    if (counter.deviceId === null) return [];
    const power = this.book
      .allPoints()
      .filter(
        (p) =>
          p.deviceId === counter.deviceId &&
          p.nodeId === counter.nodeId &&
          p.definition.quantity === 'active-power',
      );
    const same = power.filter((p) => p.phase === counter.phase);
    if (same.length > 0) return same.slice(0, 1).map((p) => p.id);
    const total = power.find((p) => p.phase === 'total');
    if (total) return [total.id];
    return power.map((p) => p.id);
  }
}

/** The sum of what several points say, part by part; null without any. A part that one of them does not know is not known. */
function sumOf(list: readonly EnergyParts[]): EnergyParts | null {
  const [first, ...others] = list;
  return first ? others.reduce(addBeside, first) : null;
}

/** A counter of what flows in and one of what flows out together; null without either. */
const inAndOut = (incoming: EnergyParts | null, outgoing: EnergyParts | null): EnergyParts | null =>
  incoming || outgoing ? bothDirections(incoming, outgoing) : null;

const isKnown = (column: Float64Array | undefined): boolean =>
  column?.some((value) => !Number.isNaN(value)) ?? false;

/** The counter knows what happened in a gap; but one of what flows in alone says nothing about what flows out. */
function chosen({ counter, power }: BySource): EnergySource | null {
  if (!counter || !isKnown(counter.net)) return power ? 'power' : null;
  if (!power) return 'counter';
  // A counter that was struck out for a while leaves that time to the power, where it is known.
  if (sumKnown(power.covered) > sumKnown(counter.covered) * MORE) return 'power';
  if (isKnown(counter.export)) return 'counter';
  return flowsOut(sumKnown(power.import), sumKnown(power.export)) ? 'power' : 'counter';
}

/** Whether so much flows out of a place that a counter of what flows in alone does not do, Wh. */
const flowsOut = (imported: number, exported: number): boolean =>
  exported > Math.max(EXPORT_LEAST, EXPORT_SHARE * imported);

const sumKnown = (values: Float64Array): number =>
  values.reduce((sum, v) => (Number.isNaN(v) ? sum : sum + v), 0);

const coverageOf = (covered: number, span: number): number => (span > 0 ? Math.min(1, covered / span) : 0);

function figuresOf(parts: EnergyParts | null, span: number): EnergyFigures {
  if (!parts) return { import: null, export: null, net: null, coverage: 0, estimated: 0 };
  const { covered, ...energy } = energyAt(parts, 0);
  return { ...energy, coverage: coverageOf(covered, span) };
}

function columnsOf(parts: EnergyParts, spans: readonly number[]) {
  const known = (column: Float64Array) => Array.from(column, (v) => (Number.isNaN(v) ? null : v));
  return {
    import: known(parts.import),
    export: known(parts.export),
    net: known(parts.net),
    coverage: spans.map((span, i) => coverageOf(parts.covered[i] as number, span)),
    estimated: Array.from(parts.estimated),
  };
}

/** Time-weighted means of slots in equal parts; NaN in a gap. */
function meansOf(blocks: Blocks, start: number, step: number, length: number): Float64Array {
  const sums = new Float64Array(length);
  const weights = new Float64Array(length);
  for (const slots of blocks)
    for (let i = 0; i < slots.length; i++) {
      const k = slotAt({ start, step }, slots.start + i * slots.step);
      const weight = slots.covered[i] as number;
      if (weight === 0 || k < 0 || k >= length) continue;
      sums[k] = (sums[k] as number) + meanAt(slots, i) * weight;
      weights[k] = (weights[k] as number) + weight;
    }
  return sums.map((sum, k) => ((weights[k] as number) > 0 ? sum / (weights[k] as number) : NaN));
}
