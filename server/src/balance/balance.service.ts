import type { InstantBalance, PeriodBalance, PlaceLimit } from '@loka/contract/balance';
import type { EnergyCalendar } from '@loka/contract/energy';
import {
  balanceOf,
  givenBy,
  isCertain,
  ofPower,
  selfUseOf,
  storageUse,
  usesOf,
  type Amount,
  type Bar,
  type SelfUse,
} from '@loka/core/balance';
import { meanAt, MINUTE, spanStart } from '@loka/core/series';
import type { CalendarStep } from '@loka/core/time';
import { Injectable } from '@nestjs/common';
import { DeviceBook } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { powerPointsOf } from '../book/nodePoints.js';
import { EnergyService } from '../energy/energy.service.js';
import { InstallationService } from '../installation/installation.service.js';
import { SlotReader, type Blocks } from '../series/slotReader.js';
import { LimitsService } from './limits.service.js';

type Places = EnergyCalendar['nodes'];
type Flowing = ReturnType<InstallationService['list']>[number];

/** Where everything went: sources and uses at every level, over a period and at an instant. */
@Injectable()
export class BalanceService {
  constructor(
    private readonly energy: EnergyService,
    private readonly installation: InstallationService,
    private readonly tree: InstallationBook,
    private readonly book: DeviceBook,
    private readonly slots: SlotReader,
    private readonly limits: LimitsService,
  ) {}

  /** Over [from, to), by parts of the site's calendar; not before the first reading and not after now. */
  async ofPeriod(from: number, to: number, step: CalendarStep): Promise<PeriodBalance> {
    const firstAt = await this.firstAt();
    const [start, end] = [Math.max(from, firstAt ?? from), Math.min(to, Date.now())];
    const nothing = {
      borders: [],
      places: [],
      uses: [],
      certain: [],
      given: [],
      selfUse: null,
      storages: [],
      firstAt,
    };
    const root = this.root();
    if (firstAt === null || root === null || end <= start) return nothing;
    const [{ borders, nodes: counted }, limits] = await Promise.all([
      this.energy.calendar(start, end, step),
      this.limits.ofNodes(),
    ]);
    const bars = borders.slice(1).map((_, i) => this.barOf(root, counted, limits, i));
    return {
      borders,
      places: this.places(counted, limits, borders),
      uses: inColumns(bars.map((bar) => bar && usesOf(bar))),
      certain: bars.map((bar) => bar !== null && isCertain(bar)),
      given: inColumns(
        bars.map((bar) => bar && givenBy(bar).map((g) => ({ ...g, key: String(g.nodeId) }))),
      ).map(({ nodeId, values }) => ({ nodeId, values })),
      ...(await this.ownSources(start, end)),
      firstAt,
    };
  }

  /** Mean power in the minute that holds an instant. */
  async atInstant(t: number): Promise<InstantBalance> {
    const from = spanStart(t, MINUTE);
    const to = from + MINUTE;
    const points = this.book.allPoints();
    const power = this.tree
      .all()
      .map(({ id }) => ({ nodeId: id, points: powerPointsOf(points.filter((p) => p.nodeId === id)) }))
      .filter((place) => place.points.length > 0);
    const [found, limits] = await Promise.all([
      this.slots.read(
        power.flatMap((place) => place.points.map((p) => p.id)),
        from,
        to,
        'flow',
        MINUTE,
      ),
      this.limits.ofNodes(),
    ]);
    return {
      from,
      to,
      places: power.map(({ nodeId, points: own }) => {
        const limit = limits.get(nodeId) as PlaceLimit;
        const watts = own.reduce<number | null>((sum, { id }) => {
          const mean = meanOf(found.get(id) ?? []);
          return sum === null || mean === null ? null : sum + mean;
        }, 0);
        const amount = watts === null ? null : ofPower(watts, Math.abs(watts) * limit.relative);
        return { nodeId, amount, limit };
      }),
    };
  }

  private root(): number | null {
    return this.tree.all().find((n) => n.kind === 'supply')?.id ?? null;
  }

  /** When anything that belongs to a place was read for the first time. */
  private firstAt(): Promise<number | null> {
    return this.slots.firstAt(
      this.book
        .allPoints()
        .filter((p) => p.nodeId !== null)
        .map((p) => p.id),
    );
  }

  private barOf(
    root: number,
    counted: Places,
    limits: ReadonlyMap<number, PlaceLimit>,
    part: number,
  ): Bar | null {
    const values = new Map(
      counted.map((place) => [
        place.nodeId,
        amountOf(
          place.import[part] ?? null,
          place.export[part] ?? null,
          place.net[part] ?? null,
          place.coverage[part] as number,
          limits.get(place.nodeId)?.relative ?? 0,
        ),
      ]),
    );
    return balanceOf(this.tree.all(), values, root);
  }

  /** Each place over the whole period: the sum of its parts. */
  private places(
    counted: Places,
    limits: ReadonlyMap<number, PlaceLimit>,
    borders: readonly number[],
  ): PeriodBalance['places'] {
    const whole = (borders.at(-1) as number) - (borders[0] as number);
    const known = new Map(counted.map((place) => [place.nodeId, place]));
    const points = this.book.allPoints();
    return this.tree.all().flatMap(({ id: nodeId }): PeriodBalance['places'] => {
      const place = known.get(nodeId);
      const limit = limits.get(nodeId) as PlaceLimit;
      if (!place) {
        const metered = powerPointsOf(points.filter((p) => p.nodeId === nodeId)).length > 0;
        return metered ? [{ nodeId, amount: null, limit, source: null }] : [];
      }
      const coverage =
        place.coverage.reduce(
          (sum, share, i) => sum + share * ((borders[i + 1] as number) - (borders[i] as number)),
          0,
        ) / whole;
      const amount = amountOf(
        sumOf(place.import),
        sumOf(place.export),
        sumOf(place.net),
        coverage,
        limit.relative,
      );
      return [{ nodeId, amount, limit, source: place.source }];
    });
  }

  /** What own sources gave and storages did, by quarter-hours: what goes back in one is not used in another. */
  private async ownSources(from: number, to: number): Promise<Pick<PeriodBalance, 'selfUse' | 'storages'>> {
    const nodes = this.installation.list();
    const supply = nodes.find((n) => n.kind === 'supply');
    const leaves = nodes.filter(
      (n) =>
        n.feedsIn &&
        n.kind !== 'supply' &&
        !nodes.some((c) => c.parentId === n.id && c.powerPointIds.length > 0),
    );
    if (!supply || leaves.length === 0) return { selfUse: null, storages: [] };
    const { borders, nodes: counted } = await this.energy.calendar(from, to, 'quarter', [
      supply.id,
      ...leaves.map((n) => n.id),
    ]);
    const parts = borders.length - 1;
    const column = (nodeId: number, way: 'import' | 'export'): Float64Array => {
      const place = counted.find((c) => c.nodeId === nodeId);
      return Float64Array.from({ length: parts }, (_, i) =>
        place === undefined || place.net[i] === null ? NaN : (place[way][i] ?? 0),
      );
    };
    const [stores, sources] = [
      leaves.filter((n) => n.purposeShown === 'storage'),
      leaves.filter((n) => n.purposeShown !== 'storage'),
    ];
    const all = (list: readonly Flowing[], way: 'import' | 'export') =>
      list.reduce((sum, n) => {
        const own = column(n.id, way);
        return sum.map((v, i) => v + (own[i] as number));
      }, new Float64Array(parts));
    const charged = all(stores, 'import');
    const discharged = all(stores, 'export');
    const selfUse: SelfUse = selfUseOf({
      import: column(supply.id, 'import'),
      export: column(supply.id, 'export'),
      // A roof that takes a little at night is a load.
      generated: all(sources, 'export'),
      charged,
      discharged,
    });
    const storages = await Promise.all(
      stores.map(async (n) => {
        const held = await this.held(n, nodes, from, to);
        const capacity = n.storageCapacity ?? null;
        const sum = (way: 'import' | 'export') =>
          column(n.id, way).reduce((total, v) => (Number.isNaN(v) ? total : total + v), 0);
        return { nodeId: n.id, ...storageUse(sum('import'), sum('export'), capacity, held), capacity, held };
      }),
    );
    return { selfUse: sources.length > 0 ? selfUse : null, storages };
  }

  /** State of charge of a storage, or of the way that it hangs on, at the start and at the end, 0–1. */
  private async held(
    node: Flowing,
    nodes: readonly Flowing[],
    from: number,
    to: number,
  ): Promise<[number, number] | null> {
    const places = [node.id, nodes.find((n) => n.id === node.parentId)?.id];
    const point = this.book
      .allPoints()
      .find((p) => p.definition.quantity === 'state-of-charge' && places.includes(p.nodeId ?? undefined));
    if (!point) return null;
    const blocks = (await this.slots.read([point.id], from, to, 'flow')).get(point.id) ?? [];
    const values = blocks.flatMap((slots) =>
      Array.from({ length: slots.length }, (_, i) => i)
        .filter((i) => (slots.covered[i] as number) > 0)
        .map((i) => meanAt(slots, i) / 100),
    );
    return values.length === 0 ? null : [values[0] as number, values.at(-1) as number];
  }
}

/** What a place has taken and given; null where nothing is known of it. */
function amountOf(
  taken: number | null,
  given: number | null,
  difference: number | null,
  known: number,
  relative: number,
): Amount | null {
  if (difference === null) return null;
  const [into, out] = [taken ?? 0, given ?? 0];
  return { in: into, out, u: (into + out) * relative, known };
}

const sumOf = (values: readonly (number | null)[]): number | null =>
  values.reduce<number | null>((sum, v) => (v === null ? sum : (sum ?? 0) + v), null);

/** Mean of what is known of some slots; null where nothing is. */
function meanOf(blocks: Blocks): number | null {
  let [sum, known] = [0, 0];
  for (const slots of blocks)
    for (let i = 0; i < slots.length; i++) {
      const ms = slots.covered[i] as number;
      if (ms === 0) continue;
      sum += meanAt(slots, i) * ms;
      known += ms;
    }
  return known === 0 ? null : sum / known;
}

/** Lists of things part by part, as one column a thing. A part of which nothing is known is null in all of them. */
function inColumns<T extends { key: string; value: number }>(
  parts: readonly (readonly T[] | null)[],
): (Omit<T, 'value'> & { values: (number | null)[] })[] {
  const columns = new Map<string, Omit<T, 'value'> & { values: (number | null)[] }>();
  parts.forEach((list, part) => {
    for (const { value, ...rest } of list ?? []) {
      let column = columns.get(rest.key);
      if (!column)
        columns.set(
          rest.key,
          (column = { ...rest, values: parts.map((known) => (known === null ? null : 0)) }),
        );
      column.values[part] = value;
    }
  });
  return [...columns.values()];
}
