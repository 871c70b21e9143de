import type {
  CounterInput,
  CounterRulesSeen,
  Doubt,
  DoubtKind,
  Exchange,
  ExchangeInput,
  VerdictInput,
} from '@loka/contract/doubts';
import { MINUTE, spanStart } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { PointEntity } from '../book/point.entity.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { Counters } from './counters.js';
import { DerivedPoints } from './derivedPoints.js';
import { Doubts } from './doubts.js';
import { DueMarks } from './dueMarks.js';
import { IntervalBook } from './intervalBook.js';
import { RebuildsService } from './rebuilds.service.js';
import { RollupWorker } from './rollupWorker.js';
import { SampleStore } from './sampleStore.js';
import { VerdictBook } from './verdictBook.js';

/** Longer stretches are recalculated as a job. */
const MINUTES_AT_ONCE = 2880;

interface VerdictRow {
  id: number;
  pointId: number;
  since: number;
  until: number;
  counts: number;
  who: string;
  at: number;
}

/** What people say of readings and counters: verdicts, exchanges, limits. What follows from it is recalculated. */
@Injectable()
export class JudgementsService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly book: DeviceBook,
    private readonly doubts: Doubts,
    private readonly verdicts: VerdictBook,
    private readonly counters: Counters,
    private readonly intervals: IntervalBook,
    private readonly derived: DerivedPoints,
    private readonly marks: DueMarks,
    private readonly store: SampleStore,
    private readonly worker: RollupWorker,
    private readonly rebuilds: RebuildsService,
    private readonly changes: ChangeFeed,
  ) {}

  /** What of some points did not count as it was read, newest first, with what has been said of it. */
  async list(pointIds: readonly number[], from: number, to: number): Promise<Doubt[]> {
    const [found, said] = await Promise.all([
      this.doubts.list(pointIds, from, to),
      pointIds.length === 0
        ? Promise.resolve([])
        : (this.db.query(
            'SELECT id, pointId, since, until, counts, who, at FROM verdicts WHERE pointId IN (?) AND since < ? ORDER BY id',
            [pointIds, to],
          ) as Promise<VerdictRow[]>),
    ]);
    const spanOf = (v: VerdictRow) => `${v.pointId} ${v.since}`;
    const listed = found.map((doubt): Doubt => {
      const verdict = said.findLast(
        (v) => v.pointId === doubt.pointId && v.since <= doubt.t && doubt.t < v.until,
      );
      return {
        ...doubt,
        kind: doubt.kind as DoubtKind,
        verdict: verdict
          ? { id: verdict.id, counts: verdict.counts === 1, who: verdict.who, at: verdict.at }
          : null,
      };
    });
    // What has been put back does not stand out any more, but what has been said of it is still to be seen.
    const seen = new Set(listed.flatMap((d) => (d.verdict ? [d.verdict.id] : [])));
    for (const verdict of new Map(said.map((v) => [spanOf(v), v])).values())
      if (!seen.has(verdict.id) && verdict.until > from)
        listed.push({
          pointId: verdict.pointId,
          kind: 'implausible',
          t: verdict.since,
          until: verdict.until - 1,
          before: null,
          after: null,
          counted: null,
          readings: 0,
          verdict: { id: verdict.id, counts: verdict.counts === 1, who: verdict.who, at: verdict.at },
        });
    return listed.sort((a, b) => b.t - a.t);
  }

  /** Has readings count, or not count, whatever Loka thinks of them. */
  async judge({ pointId, from, to, counts }: VerdictInput, who: string): Promise<{ id: number }> {
    const point = this.pointOf(pointId);
    if (to <= from) throw invalidField('to', 'The stretch ends before it starts.');
    const result: { insertId: number } = await this.db.query(
      'INSERT INTO verdicts (pointId, since, until, counts, who, at) VALUES (?, ?, ?, ?, ?, ?)',
      [pointId, from, to, counts ? 1 : 0, who, Date.now()],
    );
    await this.verdicts.reload();
    await this.changed(point, from, to);
    return { id: result.insertId };
  }

  /** Takes a verdict back; what had been said before it holds again. */
  async unjudge(id: number): Promise<void> {
    const [row] = (await this.db.query('SELECT pointId, since, until FROM verdicts WHERE id = ?', [
      id,
    ])) as VerdictRow[];
    if (!row) throw notFound('verdict', id);
    await this.db.query('DELETE FROM verdicts WHERE id = ?', [id]);
    await this.verdicts.reload();
    const point = this.book.point(row.pointId);
    if (point) await this.changed(point, row.since, row.until);
  }

  async exchanges(pointId: number): Promise<Exchange[]> {
    this.counterOf(pointId);
    return this.db.query(
      'SELECT pointId, t, `before`, `after`, who, at FROM counter_exchanges WHERE pointId = ? ORDER BY t DESC',
      [pointId],
    );
  }

  /** Enters that a counter was exchanged. */
  async exchange({ pointId, t, before, after }: ExchangeInput, who: string): Promise<void> {
    const point = this.counterOf(pointId);
    if (t > Date.now() + MINUTE) throw invalidField('t', 'A meter is exchanged now or has been before.');
    if ((await this.exchanges(pointId)).some((e) => e.t === t))
      throw new Problem('exchanged', 'An exchange at this instant is entered already. Take that back first.');
    await this.db.query(
      'INSERT INTO counter_exchanges (pointId, t, `before`, `after`, who, at) VALUES (?, ?, ?, ?, ?, ?)',
      [pointId, t, before, after, who, Date.now()],
    );
    await this.changed(point, t, t + 1);
  }

  async takeExchangeBack(pointId: number, t: number): Promise<void> {
    const point = this.counterOf(pointId);
    const { affectedRows }: { affectedRows: number } = await this.db.query(
      'DELETE FROM counter_exchanges WHERE pointId = ? AND t = ?',
      [pointId, t],
    );
    if (affectedRows === 0) throw notFound('exchange', t);
    await this.changed(point, t, t + 1);
  }

  /** What limits a counter, and what of it somebody has set. */
  rulesOf(pointId: number): CounterRulesSeen {
    const { counter } = this.counterOf(pointId);
    const { modulus, resolution, largestWatts } = this.counters.rulesOf(pointId);
    return {
      modulus,
      resolution,
      largestPower: largestWatts,
      set: {
        modulus: counter.modulus !== null,
        resolution: counter.resolution !== null,
        largestPower: counter.largestPower !== null,
      },
    };
  }

  /** Sets what limits a counter; all that it has counted is recalculated. */
  async setRules(
    pointId: number,
    { modulus, resolution, largestPower }: CounterInput,
  ): Promise<CounterRulesSeen> {
    this.counterOf(pointId);
    if (modulus && resolution && resolution >= modulus)
      throw invalidField('resolution', 'One count is smaller than what it counts to.');
    const plan = await this.db.transaction(async (tables) => {
      await tables.update(PointEntity, pointId, {
        counterModulus: modulus ?? null,
        counterResolution: resolution ?? null,
        largestPower: largestPower ?? null,
      });
      return this.rebuilds.plan(tables, [pointId], 0, { own: true });
    });
    await this.book.reload();
    if (plan.length > 0) void this.rebuilds.run('What a counter has counted', plan);
    this.changes.say('devices', 'history');
    return this.rulesOf(pointId);
  }

  /** Recalculates what a changed judgement touches: at once where it is short, as a job where it is long. */
  private async changed(point: KnownPoint, from: number, to: number): Promise<void> {
    const end = to + this.intervals.longestHold(point.id);
    if ((end - from) / MINUTE > MINUTES_AT_ONCE) {
      const plan = await this.db.transaction((tables: EntityManager) =>
        this.rebuilds.plan(tables, [point.id], from, { own: true }),
      );
      void this.rebuilds.run(`Rollups brought up to date: ${point.definition.name}`, plan);
    } else {
      await this.store.change(async (tables) => {
        const minutes: [number, number][] = [];
        for (const id of [point.id, ...this.derived.dependents(point.id)])
          for (let minute = spanStart(from, MINUTE); minute < end; minute += MINUTE)
            minutes.push([id, minute]);
        await this.marks.mark(tables, minutes);
      });
      await this.worker.work();
    }
    this.changes.say('history', 'doubts');
  }

  private pointOf(id: number): KnownPoint {
    const point = this.book.point(id);
    if (!point) throw notFound('point', id);
    return point;
  }

  private counterOf(id: number): KnownPoint {
    const point = this.pointOf(id);
    if (!this.counters.isCounter(id))
      throw invalidField('pointId', `“${point.definition.name}” is not a counter.`);
    return point;
  }
}
