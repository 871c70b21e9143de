import type { EnergyCalendar, EnergySource, NodeEnergy, Sparkline } from '@loka/contract/energy';
import {
  addEnergy,
  energyOfSlots,
  energyShare,
  NO_ENERGY,
  partOfSegment,
  sumByPart,
  type Energy,
} from '@loka/core/energy';
import { meanAt, MINUTE, QUARTER, slotAt, type Counts } from '@loka/core/series';
import { calendarBorders, type CalendarStep } from '@loka/core/time';
import { Injectable } from '@nestjs/common';
import { bisectLeft, bisectRight } from 'd3-array';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { counterPointsOf, powerPointsOf } from '../book/nodePoints.js';
import { Counters, type CounterSpan } from '../series/counters.js';
import { SlotReader, type Blocks } from '../series/slotReader.js';
import { SiteService } from '../site/site.service.js';

/** What may flow out of a place before a counter of what flows in does not tell all: this share of it, and this much, Wh. */
const EXPORT_SHARE = 0.01;
const EXPORT_LEAST = 10;
/** So much of the end of a period tells which source is taken for all of it. */
const DECIDING = 31 * 86_400_000;

/** Points from which the energy of a place comes. */
interface Sources {
  nodeId: number;
  power: KnownPoint[];
  importing: KnownPoint[];
  exporting: KnownPoint[];
}

interface BySource {
  counter: Energy[] | null;
  power: Energy[] | null;
}

/** Energy of the places of the installation, from what their counters have counted and from their power. */
@Injectable()
export class EnergyService {
  constructor(
    private readonly slots: SlotReader,
    private readonly counters: Counters,
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly sites: SiteService,
  ) {}

  /** Energy of every place over [from, to), with what its other source says. */
  async ofNodes(from: number, to: number): Promise<NodeEnergy[]> {
    const borders = [from, to];
    const sources = this.sources();
    const found = await this.bySource(sources, borders);
    const span = Math.max(0, Math.min(to, Date.now()) - from);
    return this.tree.all().map((node) => {
      const both = found.get(node.id) ?? { counter: null, power: null };
      const source = chosen(both);
      const told = (which: EnergySource | null) => summary((which && both[which]?.[0]) ?? NO_ENERGY, span);
      const other = source === 'counter' ? 'power' : 'counter';
      return {
        nodeId: node.id,
        source,
        ...told(source),
        other: source !== null && both[other]?.[0]?.net != null ? { source: other, ...told(other) } : null,
      };
    });
  }

  /** Energy of every place by quarter, hour, day or month of the site's calendar. */
  async calendar(from: number, to: number, step: CalendarStep): Promise<EnergyCalendar> {
    const { timeZone } = await this.sites.require();
    const inside = calendarBorders(timeZone, from, to, step).filter((t) => t > from && t < to);
    const borders = [from, ...inside, to];
    const now = Date.now();
    const spans = borders.slice(1).map((end, i) => Math.max(0, Math.min(end, now) - (borders[i] as number)));
    const found = await this.bySource(await this.withoutNeedless(from, to), borders);
    return {
      borders,
      nodes: [...found].flatMap(([nodeId, both]) => {
        const source = chosen(both);
        const parts = source === null ? null : both[source];
        if (source === null || !parts) return [];
        const figures = parts.map((energy, i) => summary(energy, spans[i] as number));
        const column = <K extends keyof ReturnType<typeof summary>>(key: K) => figures.map((f) => f[key]);
        return [
          {
            nodeId,
            source,
            import: column('import'),
            export: column('export'),
            net: column('net'),
            coverage: column('coverage'),
            estimated: column('estimated'),
          },
        ];
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
   * The sources of a long period without those that would not be taken: a power beside a counter of both directions, or
   * beside one of what flows in where, in the last weeks of the period, nothing has flown out; else that counter.
   */
  private async withoutNeedless(from: number, to: number): Promise<Sources[]> {
    const sources = this.sources();
    const both = sources.filter((s) => s.importing.length > 0 && s.power.length > 0);
    const asked = both.filter((s) => s.exporting.length === 0);
    const end = Math.min(to, Date.now());
    const lately =
      asked.length === 0 ? null : await this.bySource(asked, [Math.max(from, end - DECIDING), end]);
    return sources.map((s) => {
      if (!both.includes(s)) return s;
      const counter =
        s.exporting.length > 0 || (lately && chosen(lately.get(s.nodeId) as BySource) === 'counter');
      return counter ? { ...s, power: [] } : { ...s, importing: [] };
    });
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
    const counted = new Map<number, Energy[]>();
    for (const point of counters) {
      const own = spans.filter((s) => s.pointId === point.id);
      counted.set(point.id, await this.counted(point, counts.get(point.id) ?? [], own, borders));
    }
    return new Map(
      sources.map((s) => [
        s.nodeId,
        {
          power: sumOf(s.power.map((p) => energyOfBlocks(slots.get(p.id) ?? [], borders))),
          counter: inAndOut(
            sumOf(s.importing.map((p) => counted.get(p.id) as Energy[])),
            sumOf(s.exporting.map((p) => counted.get(p.id) as Energy[])),
          ),
        },
      ]),
    );
  }

  /** What a counter has counted, part by part, as `import`; less than nothing where its power is corrected to flow the other way. */
  private async counted(
    point: KnownPoint,
    counts: readonly Counts[],
    spans: readonly CounterSpan[],
    borders: readonly number[],
  ): Promise<Energy[]> {
    const from = borders[0] as number;
    const to = borders.at(-1) as number;
    const own = this.slots.hasLine(point.id);
    const scale = own ? null : await this.slots.scaleOf(this.powerBehind(point), from, to);
    const factor = (t: number) => (own ? this.slots.gainOf(point.id, t) : (scale?.(t) ?? 1));
    const parts = borders.slice(1).map(() => ({ sum: 0, covered: 0, estimated: 0 }));
    const scaled = own || scale !== null;
    for (const block of counts)
      sumByPart(block, borders, (part, i) => {
        const sum = parts[part] as (typeof parts)[number];
        const increment = block.increment[i] as number;
        sum.sum += scaled ? increment * factor(block.start + i * block.step) : increment;
        sum.covered += block.covered[i] as number;
      });
    for (const span of spans)
      parts.forEach((sum, part) => {
        const [a, b] = [borders[part] as number, borders[part + 1] as number];
        const increment = partOfSegment(
          { from: span.since, to: span.until, increment: span.increment },
          a,
          b,
        );
        const overlap = Math.min(b, span.until) - Math.max(a, span.since);
        if (overlap <= 0) return;
        const value = increment * factor(Math.max(a, span.since));
        sum.sum += value;
        // The whole of a gap is known; how much of it fell into a part of it is not.
        if (span.sure && span.since >= a && span.until <= b) sum.covered += overlap;
        else sum.estimated += Math.abs(value);
      });
    return parts.map(({ sum, covered, estimated }) =>
      covered === 0 && estimated === 0 && sum === 0
        ? NO_ENERGY
        : { import: sum, export: null, net: sum, covered, estimated },
    );
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

/** Blocks follow one another: most parts lie in one of them, and only those on a border in two. */
function energyOfBlocks(blocks: Blocks, borders: readonly number[]): Energy[] {
  const parts = empty(borders);
  for (const slots of blocks) {
    const end = slots.start + slots.length * slots.step;
    const first = Math.max(0, bisectRight(borders, slots.start) - 1);
    const last = Math.min(parts.length, bisectLeft(borders, end));
    energyOfSlots(slots, borders.slice(first, last + 1)).forEach((energy, i) => {
      const known = parts[first + i] as Energy;
      parts[first + i] = known === NO_ENERGY ? energy : addEnergy(known, energy, 'later');
    });
  }
  return parts;
}

const empty = (borders: readonly number[]): Energy[] => borders.slice(1).map(() => NO_ENERGY);

/** The sum of what several points say, part by part; null without any. A part that one of them does not know is not known. */
function sumOf(list: readonly Energy[][]): Energy[] | null {
  const [first, ...others] = list;
  if (!first) return null;
  return others.reduce(
    (sum, one) => sum.map((energy, i) => addEnergy(energy, one[i] as Energy, 'beside')),
    first,
  );
}

/** A counter of what flows in and one of what flows out together. What is corrected below zero flows the other way. */
function inAndOut(incoming: Energy[] | null, outgoing: Energy[] | null): Energy[] | null {
  const length = incoming?.length ?? outgoing?.length;
  if (length === undefined) return null;
  return Array.from({ length }, (_, i) => energyShare(incoming?.[i] ?? null, outgoing?.[i] ?? null));
}

/** The counter knows what happened in a gap; but one of what flows in alone says nothing of what flows out. */
function chosen({ counter, power }: BySource): EnergySource | null {
  if (!counter || counter.every((e) => e.net === null)) return power ? 'power' : null;
  if (!power || counter.some((e) => e.export !== null)) return 'counter';
  const sum = (key: 'import' | 'export') => power.reduce((total, e) => total + (e[key] ?? 0), 0);
  return sum('export') > Math.max(EXPORT_LEAST, EXPORT_SHARE * sum('import')) ? 'power' : 'counter';
}

function summary(energy: Energy, span: number) {
  return {
    import: energy.import,
    export: energy.export,
    net: energy.net,
    coverage: span > 0 ? Math.min(1, energy.covered / span) : 0,
    estimated: energy.estimated,
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
