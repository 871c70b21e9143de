import { MINUTE, type Sample } from '@loka/core/series';
import { computeOver } from '@loka/core/virtual';
import { Injectable, Logger, OnModuleInit } from '@nestjs/common';
import { DeviceBook } from '../book/deviceBook.js';
import { CorrectionBook } from '../series/correctionBook.js';
import { DerivedPoints, type Deriving } from '../series/derivedPoints.js';
import { IntervalBook } from '../series/intervalBook.js';
import { ReadingsReader } from '../series/readingsReader.js';
import { SiteService } from '../site/site.service.js';
import { dependents, inOrder, type Computed } from './virtualGraph.js';

/** Computes virtual meters from the recorded readings of their inputs; the series ask for it when an input has changed. */
@Injectable()
export class DerivingMeters implements Deriving, OnModuleInit {
  private readonly log = new Logger('virtual meters');
  private sequence: Computed[] = [];
  private byId = new Map<number, Computed>();
  private byInput = new Map<number, number[]>();
  private nominal = 230;

  constructor(
    private readonly book: DeviceBook,
    private readonly derived: DerivedPoints,
    private readonly intervals: IntervalBook,
    private readonly reader: ReadingsReader,
    private readonly corrections: CorrectionBook,
    private readonly site: SiteService,
  ) {}

  onModuleInit(): void {
    this.derived.use(this);
    this.book.reloaded.subscribe(() => this.arrange());
    this.arrange();
  }

  /** All virtual meters, in the order in which they are to be computed. */
  all(): readonly Computed[] {
    return this.sequence;
  }

  dependents(pointId: number): readonly number[] {
    let known = this.byInput.get(pointId);
    if (!known) this.byInput.set(pointId, (known = dependents(this.sequence, [pointId]).map((c) => c.id)));
    return known;
  }

  isDerived(pointId: number): boolean {
    return this.byId.has(pointId);
  }

  order(pointIds: readonly number[]): number[] {
    const place = new Map(this.sequence.map((c, i) => [c.id, i]));
    return [...pointIds].sort((a, b) => (place.get(a) ?? -1) - (place.get(b) ?? -1));
  }

  intervalAt(pointId: number, t: number): number {
    const { definition } = this.byId.get(pointId) as Computed;
    return Math.max(
      definition.askedMs ?? definition.intervalMs,
      ...definition.inputs.map((i) => this.intervals.intervalAt(i.pointId, t)),
    );
  }

  changeAfter(pointId: number, t: number): number {
    const { definition } = this.byId.get(pointId) as Computed;
    return Math.min(Infinity, ...definition.inputs.map((i) => this.intervals.changeAfter(i.pointId, t)));
  }

  /** V that stand in where the formula asks for the nominal voltage at t: of its circuit, else of the site. */
  nominalAt(pointId: number, t: number): number {
    const sensing = this.corrections.sensingsOf(pointId).findLast((s) => s.validFrom <= t);
    return sensing?.nominalVoltage ?? this.nominal;
  }

  /** As fine as the coarsest input was recorded, so that nothing is made up between its readings. */
  async compute(pointId: number, from: number, to: number): Promise<Sample[]> {
    const computed = this.byId.get(pointId);
    if (!computed || to <= from) return [];
    const { definition, expression } = computed;
    this.nominal = (await this.site.get())?.nominalVoltage ?? this.nominal;
    const inputs = await Promise.all(
      definition.inputs.map(async (input) => ({
        name: input.name,
        samples: await this.reader.list(input.pointId, from, to, Infinity, true),
        holdMs: this.intervals.hold(input.pointId),
      })),
    );
    const samples: Sample[] = [];
    for (let start = from; start < to;) {
      const end = Math.min(to, this.changeAfter(pointId, start));
      const stepMs = this.intervalAt(pointId, start);
      const span = { from: start, to: end, stepMs };
      samples.push(...computeOver(expression, inputs, span, this.nominalAt(pointId, start)));
      start = end;
    }
    return samples;
  }

  private arrange(): void {
    this.sequence = inOrder(this.book.allPoints());
    this.byId = new Map(this.sequence.map((c) => [c.id, c]));
    this.byInput = new Map();
    this.site.get().then(
      (site) => (this.nominal = site?.nominalVoltage ?? this.nominal),
      (error: Error) => this.log.warn(`the nominal voltage stays at ${this.nominal} V: ${error.message}`),
    );
  }

  /** The first full minute from which all inputs of a virtual meter have readings; null when one has none. */
  async beginOf(
    pointId: number,
    firstOf: (pointId: number) => Promise<number | null>,
  ): Promise<number | null> {
    const computed = this.byId.get(pointId);
    if (!computed) return null;
    const starts = await Promise.all(
      computed.definition.inputs.map(({ pointId: id }) =>
        this.byId.has(id) ? this.beginOf(id, firstOf) : firstOf(id),
      ),
    );
    const known = starts.filter((s) => s !== null);
    if (known.length < starts.length || known.length === 0) return null;
    const start = Math.max(...known);
    return start - (start % MINUTE);
  }
}
