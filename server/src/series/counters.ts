import {
  CounterFold,
  foldCounter,
  modulusOfType,
  partOfSegment,
  type CounterEvent,
  type CounterExchange,
  type CounterReading,
  type CounterRules,
  type CounterSegment,
  type CounterState,
} from '@loka/core/energy';
import { isRegister } from '@loka/core/definitions';
import { quantityInfo, unitFactor } from '@loka/core/quantities';
import { scalingLine } from '@loka/core/points';
import {
  counts as countsAtAll,
  emptyCounts,
  HOUR,
  judge,
  MINUTE,
  QUALITY,
  type Counts,
  type Sample,
} from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import { DeviceBook } from '../book/deviceBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { IntervalBook } from './intervalBook.js';
import { chunksOf, Journal } from './journal.js';
import { VerdictBook } from './verdictBook.js';

/** Above this power an increment is a fault where nothing is known of the place: 3 × 125 A at 230 V (trade). */
const LARGEST_WATTS = 86_250;
/** A protective device lets a quarter more through for hours (IEC 60898-1: at most 1.45 for an hour; trade). */
const OVER_RATING = 1.25;
const VOLTS = 230;
/** Readings after an hour that are looked at to tell how it ended. */
const LOOK_AHEAD = 50;
/** So many readings at the beginning of an hour may decide what the ones before it were. */
const DECIDING = 5;

/** What an hour of a counter comes to. */
export interface CounterHour {
  pointId: number;
  hour: number;
  counts: Counts;
  /** Increments over gaps that end in this hour. */
  spans: CounterSegment[];
  events: CounterEvent[];
  /** Where the counter stands at the hour's end. */
  leaving: CounterState | null;
  /** Since when what is counted from this hour's first readings on may lie in earlier hours; null where it does not. */
  reachesBackTo: number | null;
  /** The last reading that has a say in that; a change after it does not touch earlier hours. */
  reachesUntil: number;
}

/** An increment over a gap, as it is kept: spread evenly when it is asked for. */
export interface CounterSpan {
  pointId: number;
  since: number;
  until: number;
  increment: number;
  /** Whether the total is sure, and only how it is spread is not. */
  sure: boolean;
}

/** Follows counters hour by hour, from the state that the hour before has left, and knows how that lies in the database. */
@Injectable()
export class Counters {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly journal: Journal,
    private readonly devices: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly intervals: IntervalBook,
    private readonly verdicts: VerdictBook,
  ) {}

  isCounter(pointId: number): boolean {
    const point = this.devices.pointEver(pointId);
    return point !== undefined && quantityInfo(point.definition.quantity).kind === 'counter';
  }

  /** What limits a counter: what somebody has set, else its register and the rating of its place. */
  rulesOf(pointId: number): CounterRules {
    const point = this.devices.pointEver(pointId);
    const hold = this.intervals.hold(pointId);
    if (!point) return { resolution: 1, modulus: null, largestWatts: LARGEST_WATTS, hold };
    const { definition, counter } = point;
    const factor = Math.abs(
      scalingLine(definition.scaling).slope * (unitFactor(definition.quantity, definition.unit) ?? 1),
    );
    const whole = isRegister(definition) && modulusOfType(definition.type);
    return {
      resolution: counter.resolution ?? (whole ? factor : Math.min(factor, 1)),
      modulus: counter.modulus ?? (whole ? whole * factor : null),
      largestWatts: counter.largestPower ?? this.ratingOf(point.nodeId),
      hold,
    };
  }

  private ratingOf(nodeId: number | null): number {
    const node = nodeId === null ? undefined : this.tree.node(nodeId);
    if (!node?.ratedCurrent) return LARGEST_WATTS;
    return node.ratedCurrent * VOLTS * node.phases.split(' ').length * OVER_RATING;
  }

  /**
   * Follows a counter through an hour that begins at `hour`. Needs the hours before it to have been followed, and kept,
   * or handed in as `before`: where it stood at the ends of hours that are not kept yet.
   */
  async follow(
    pointId: number,
    hour: number,
    before: readonly { end: number; state: CounterState | null }[] = [],
  ): Promise<CounterHour> {
    const rules = this.rulesOf(pointId);
    const end = hour + HOUR;
    const [entering, samples, after, exchanges] = await Promise.all([
      this.stateAt(pointId, hour, before),
      this.journal.readMany([pointId], hour, end),
      this.journal.page(
        pointId,
        end,
        end + Math.max(HOUR, 2 * this.intervals.longestHold(pointId)),
        LOOK_AHEAD,
      ),
      this.exchanges(pointId, hour, end),
    ]);
    const readings = this.readings(pointId, samples.get(pointId) ?? []);
    const inside = foldCounter(rules, entering, readings, exchanges);
    const ahead = new CounterFold(rules, inside.state);
    for (const reading of this.readings(pointId, after)) {
      if (ahead.state && ahead.state.seen >= end && ahead.state.pending.length === 0) break;
      ahead.take(reading);
    }
    const counts = emptyCounts(hour, MINUTE, HOUR / MINUTE);
    const spans: CounterSegment[] = [];
    for (const segment of [...inside.segments, ...ahead.segments]) {
      if (segment.how !== 'counted') {
        if (segment.to >= hour && segment.to < end) spans.push(segment);
        continue;
      }
      this.addSegment(counts, segment);
    }
    const events = [...inside.events, ...ahead.events].filter((e) => e.t >= hour && e.t < end);
    return {
      pointId,
      hour,
      counts,
      spans,
      events,
      leaving: inside.state,
      ...this.reachOf(pointId, hour, entering, readings),
    };
  }

  /** How far back the first readings of an hour have a say in what was counted. */
  private reachOf(
    pointId: number,
    hour: number,
    entering: CounterState | null,
    readings: readonly CounterReading[],
  ): Pick<CounterHour, 'reachesBackTo' | 'reachesUntil'> {
    const since = entering && Math.min(entering.seen, entering.pending[0]?.t ?? Infinity);
    if (since === null || hour - since > this.intervals.longestHold(pointId))
      return { reachesBackTo: null, reachesUntil: -Infinity };
    const last = readings.length > DECIDING ? (readings[DECIDING - 1] as CounterReading).t : Infinity;
    return { reachesBackTo: since, reachesUntil: last };
  }

  /** Readings of a counter that count, as people have judged them. */
  readings(pointId: number, samples: readonly Sample[]): CounterReading[] {
    const verdicts = this.verdicts.of(pointId);
    return samples.flatMap((sample) => {
      const { t, v, q } = judge(sample, verdicts);
      if (v === null || !countsAtAll(q)) return [];
      const forced = verdicts.length > 0 && q !== QUALITY.struckOut && isForced(verdicts, t);
      return [forced ? { t, v, forced } : { t, v }];
    });
  }

  /** Where a counter stands when an hour begins; null when it has not been read before. @param before as in {@link follow} */
  async stateAt(
    pointId: number,
    hour: number,
    before: readonly { end: number; state: CounterState | null }[] = [],
  ): Promise<CounterState | null> {
    const [kept] = (await this.db.query(
      'SELECT hour, state FROM counter_states WHERE pointId = ? AND hour <= ? ORDER BY hour DESC LIMIT 1',
      [pointId, hour],
    )) as { hour: number; state: string }[];
    const handed = before.findLast((b) => b.end <= hour);
    if (handed && handed.end >= (kept?.hour ?? -Infinity)) return handed.state;
    return kept ? (JSON.parse(kept.state) as CounterState | null) : null;
  }

  private async stateTextAt(
    tables: Pick<EntityManager, 'query'>,
    pointId: number,
    hour: number,
  ): Promise<string> {
    const [row] = (await tables.query(
      'SELECT state FROM counter_states WHERE pointId = ? AND hour <= ? ORDER BY hour DESC LIMIT 1',
      [pointId, hour],
    )) as { state: string }[];
    return row?.state ?? 'null';
  }

  /** The next hour after one that has been followed; null when there is none. */
  private async nextFollowed(
    tables: Pick<EntityManager, 'query'>,
    pointId: number,
    hour: number,
  ): Promise<number | null> {
    const [row] = (await tables.query(
      'SELECT hour FROM counter_states WHERE pointId = ? AND hour > ? ORDER BY hour LIMIT 1',
      [pointId, hour + HOUR],
    )) as { hour: number }[];
    return row ? row.hour - HOUR : null;
  }

  /**
   * Writes what an hour has come to. @returns the next hour that has to be followed again, because this one is left in
   * another state than before; null when nothing further changes
   */
  async write(tables: Pick<EntityManager, 'query'>, made: CounterHour): Promise<number | null> {
    const { pointId, hour, spans, events, leaving } = made;
    const end = hour + HOUR;
    await this.replaceDetails(tables, pointId, hour, end, { spans, events });
    const state = JSON.stringify(leaving);
    const before = await this.stateTextAt(tables, pointId, end);
    await tables.query('REPLACE INTO counter_states (pointId, hour, state) VALUES (?, ?, ?)', [
      pointId,
      end,
      state,
    ]);
    return before === state ? null : this.nextFollowed(tables, pointId, hour);
  }

  /** Writes what a long stretch has come to, in the place of what is there. @returns as {@link write} */
  async writeMany(
    tables: Pick<EntityManager, 'query'>,
    pointId: number,
    from: number,
    to: number,
    made: { states: { hour: number; state: string }[]; spans: CounterSegment[]; events: CounterEvent[] },
  ): Promise<number | null> {
    const before = await this.stateTextAt(tables, pointId, to);
    await tables.query('DELETE FROM counter_states WHERE pointId = ? AND hour > ? AND hour <= ?', [
      pointId,
      from,
      to,
    ]);
    for (const part of chunksOf(made.states, 500))
      await tables.query('REPLACE INTO counter_states (pointId, hour, state) VALUES ?', [
        part.map((s) => [pointId, s.hour, s.state]),
      ]);
    await this.replaceDetails(tables, pointId, from, to, made);
    const after = await this.stateTextAt(tables, pointId, to);
    return before === after ? null : this.nextFollowed(tables, pointId, to - HOUR);
  }

  private async replaceDetails(
    tables: Pick<EntityManager, 'query'>,
    pointId: number,
    from: number,
    to: number,
    { spans, events }: { spans: readonly CounterSegment[]; events: readonly CounterEvent[] },
  ): Promise<void> {
    await tables.query('DELETE FROM counter_spans WHERE pointId = ? AND until >= ? AND until < ?', [
      pointId,
      from,
      to,
    ]);
    for (const part of chunksOf(spans, 500))
      await tables.query('REPLACE INTO counter_spans (pointId, until, since, increment, sure) VALUES ?', [
        part.map((s) => [pointId, s.to, s.from, s.increment, s.how === 'gap' ? 1 : 0]),
      ]);
    await tables.query(
      "DELETE FROM doubts WHERE pointId = ? AND t >= ? AND t < ? AND kind <> 'implausible'",
      [pointId, from, to],
    );
    for (const part of chunksOf(events, 500))
      await tables.query(
        'REPLACE INTO doubts (pointId, t, kind, until, `before`, `after`, counted, readings) VALUES ?',
        [part.map((e) => [pointId, e.t, e.kind, e.until, e.before, e.after, e.counted, 1])],
      );
  }

  /** Increments over gaps that touch [from, to). */
  async spans(pointIds: readonly number[], from: number, to: number): Promise<CounterSpan[]> {
    const found: CounterSpan[] = [];
    for (const ids of chunksOf(pointIds, 100))
      found.push(
        ...(
          (await this.db.query(
            'SELECT pointId, since, until, increment, sure FROM counter_spans WHERE pointId IN (?) AND until > ? AND since < ?',
            [ids, from, to],
          )) as (Omit<CounterSpan, 'sure'> & { sure: number })[]
        ).map((row) => ({ ...row, sure: row.sure === 1 })),
      );
    return found;
  }

  /** What has been entered as an exchange in [from, to). */
  exchanges(pointId: number, from: number, to: number): Promise<CounterExchange[]> {
    return this.db.query(
      'SELECT t, `before`, `after` FROM counter_exchanges WHERE pointId = ? AND t >= ? AND t < ? ORDER BY t',
      [pointId, from, to],
    );
  }

  /** Adds what was counted between two readings to the minutes between them. */
  addSegment(counts: Counts, segment: CounterSegment): void {
    const { start, step, length } = counts;
    const first = Math.max(0, Math.floor((segment.from - start) / step));
    const last = Math.min(length - 1, Math.floor((segment.to - 1 - start) / step));
    for (let i = first; i <= last; i++) {
      const from = start + i * step;
      counts.increment[i] = (counts.increment[i] as number) + partOfSegment(segment, from, from + step);
      counts.covered[i] =
        (counts.covered[i] as number) + Math.min(segment.to, from + step) - Math.max(segment.from, from);
    }
  }

  /** Takes everything away that has been made of a counter, to follow it again from its first reading on. */
  async forget(tables: Pick<EntityManager, 'query'>, pointId: number): Promise<void> {
    for (const table of ['counter_states', 'counter_spans'])
      await tables.query(`DELETE FROM ${table} WHERE pointId = ?`, [pointId]);
    await tables.query("DELETE FROM doubts WHERE pointId = ? AND kind <> 'implausible'", [pointId]);
  }
}

/** Whether a person has said that the reading at t counts. */
const isForced = (verdicts: readonly { from: number; to: number; counts: boolean }[], t: number): boolean =>
  verdicts.findLast((v) => v.from <= t && t < v.to)?.counts === true;
