import { isReadable } from '@loka/core/points';
import type { MendedInput, PastProposed, PastWay, VerificationRecord } from '@loka/contract/verify';
import { PLAIN_SENSING, type Sensing } from '@loka/core/sensing';
import { HOUR } from '@loka/core/series';
import { sinceWhen, usualFactor, type Fault, type FaultKind } from '@loka/core/verify';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { FittingsBook } from '../book/fittingsBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { counterPointsOf, powerPointsOf } from '../book/nodePoints.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { invalidField, notFound, Problem } from '../problem/errors.js';
import { SensingService } from '../sensing/sensing.service.js';
import { CorrectionBook } from '../series/correctionBook.js';
import { JudgementsService } from '../series/judgements.service.js';
import { ReadingsReader } from '../series/readingsReader.js';
import { ReadingsService } from '../series/readings.service.js';
import { metersAt } from './metered.js';
import { VerificationEntity } from './verify.entity.js';

const DAY = 24 * HOUR;
/** So far back is looked for the beginning of a fault. */
const LOOKED_BACK = 92 * DAY;
/** A reading of a counter at an instant is looked for so far before and after it. */
const AROUND = 2 * DAY;

/** Faults whose readings can be put right by what is known of them. */
const CORRECTABLE = new Set<FaultKind>(['reversed', 'wrong-ratio']);
const SENSED = new Set(['active-power', 'reactive-power']);

/** What is done with what was read while a fault stood. */
@Injectable()
export class PastService {
  constructor(
    @InjectRepository(VerificationEntity) private readonly rows: Repository<VerificationEntity>,
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly corrections: CorrectionBook,
    private readonly sensing: SensingService,
    private readonly judgements: JudgementsService,
    private readonly readings: ReadingsService,
    private readonly reader: ReadingsReader,
    private readonly fittings: FittingsBook,
    private readonly changes: ChangeFeed,
  ) {}

  /** What there is to decide of the latest fault that was recorded and is mended since; null where there is nothing. */
  async propose(nodeId: number, records: readonly VerificationRecord[]): Promise<PastProposed | null> {
    const index = records.findIndex((r) => r.kind === 'as-found' && r.faults.length > 0);
    const found = records[index];
    const fault = found?.faults[0];
    // Newest first: what was recorded after it is before it in the list.
    const left = records
      .slice(0, Math.max(0, index))
      .findLast((r) => r.kind === 'as-left' && r.faults.length === 0);
    if (!found || !fault || found.past !== '' || !left) return null;
    const { since, because } = await this.began(nodeId, fault, found.at);
    return {
      recordId: found.id,
      fault,
      since,
      because,
      until: left.at,
      ways: CORRECTABLE.has(fault.kind) ? ['correct', 'strike', 'leave'] : ['strike', 'leave'],
    };
  }

  /** Does it, and records what was done. */
  async mend(nodeId: number, input: MendedInput): Promise<void> {
    const record = await this.rows.findOneBy({ id: input.recordId, nodeId });
    const fault = record?.faults[0];
    if (!record || !fault) throw notFound('verification with a fault', input.recordId);
    if (record.past !== '') throw new Problem('done-already', `That has been decided: ${record.past}`);
    const { since, until, way } = input;
    if (until <= since) throw invalidField('until', 'It was mended after it began.');
    if (until > Date.now() + 60_000) throw invalidField('until', 'It has been mended by now.');
    if (way === 'correct') await this.correct(nodeId, fault, since, until, record.who);
    if (way === 'strike') await this.strike(nodeId, since, until, record.who);
    record.past = DONE[way];
    await this.rows.save(record);
    await this.fittings.add([nodeId], 'put-right', DONE[way], record.who, until);
    this.changes.say('verifications', 'installation', 'history');
  }

  private async began(
    nodeId: number,
    fault: Fault,
    until: number,
  ): Promise<{ since: number; because: string }> {
    const points = powerPointsOf(this.pointsOf(nodeId));
    // The hour in which it was seen may have been mended in as well.
    const to = Math.floor(until / HOUR) * HOUR;
    const from = to - LOOKED_BACK;
    const lines = await this.readings.series(
      points.map((p) => p.id),
      { from, to },
      { step: HOUR },
    );
    const [first] = lines;
    if (!first) return { since: until, because: 'No power is recorded here.' };
    const sum = (part: 'min' | 'max', i: number): number | null =>
      lines.reduce<number | null>((total, line) => {
        const value = line[part][i] ?? null;
        return total === null || value === null ? null : total + value;
      }, 0);
    const hours = first.t.map((t, i) => ({ t, min: sum('min', i), max: sum('max', i) }));
    const { t, because } = sinceWhen(hours, fault);
    return {
      since: t,
      because:
        because === 'always'
          ? 'It has never read otherwise: since its first reading.'
          : 'After the last hour that was read as it is right.',
    };
  }

  /** Readings of a stretch put right, by what sat before the meter then. */
  private async correct(
    nodeId: number,
    fault: Fault,
    since: number,
    until: number,
    who: string,
  ): Promise<void> {
    const points = this.pointsOf(nodeId).filter((p) => isTouched(p, fault, this.deviceOf(nodeId)));
    for (const point of points) {
      const versions = this.corrections.sensingsOf(point.id);
      if (versions.some((v) => v.validFrom > since && v.validFrom < until))
        throw new Problem(
          'changed-between',
          `What sits before “${point.definition.name}” was changed between these instants. Put it right from each of them on its circuit’s page.`,
        );
      const before: Sensing = plain(versions.findLast((v) => v.validFrom <= since) ?? PLAIN_SENSING);
      const common = { pointIds: [point.id] };
      await this.sensing.set({ ...common, ...before, validFrom: until }, who);
      await this.sensing.set({ ...common, ...putRight(before, fault), validFrom: since }, who);
    }
    // A counter of what flows in has not counted what flowed the other way: it says nothing about that stretch.
    if (fault.kind === 'reversed') await this.strikeCounters(nodeId, since, until, who);
  }

  /** Readings of a stretch that mean nothing are taken out of energy and profiles; they stay as they were read. */
  private async strike(nodeId: number, since: number, until: number, who: string): Promise<void> {
    const device = this.deviceOf(nodeId);
    for (const point of this.pointsOf(nodeId))
      if (point.deviceId === device && STRUCK.has(point.definition.quantity))
        await this.judgements.judge({ pointId: point.id, from: since, to: until, counts: false }, who);
    await this.strikeCounters(nodeId, since, until, who);
  }

  /** What a counter counted over the stretch is not counted: as if it had been exchanged at its end. */
  private async strikeCounters(nodeId: number, since: number, until: number, who: string): Promise<void> {
    const points = this.pointsOf(nodeId);
    for (const counter of [
      ...counterPointsOf(points, 'energy-import'),
      ...counterPointsOf(points, 'energy-export'),
    ]) {
      const before = (await this.reader.list(counter.id, since - AROUND, since + 1)).findLast(
        (r) => r.raw !== null,
      );
      const [after] = await this.reader.list(counter.id, until, until + AROUND, 1);
      if (before?.raw != null && after?.raw != null)
        await this.judgements.exchange(
          { pointId: counter.id, t: after.t, before: before.raw, after: after.raw },
          who,
        );
      // A counter that was read at that very instant had counted rightly until then. Last: what it counted is recalculated from then on, with both.
      await this.judgements.judge({ pointId: counter.id, from: since + 1, to: until, counts: false }, who);
    }
  }

  private deviceOf(nodeId: number): number | undefined {
    return metersAt(this.pointsOf(nodeId))[0]?.deviceId;
  }

  private pointsOf(nodeId: number): KnownPoint[] {
    if (!this.tree.node(nodeId)) throw notFound('place in the installation', nodeId);
    return this.book.allPoints().filter((p) => p.nodeId === nodeId && isReadable(p.definition));
  }
}

const DONE: Record<PastWay, string> = {
  correct: 'The wrong readings were corrected.',
  strike: 'The wrong readings are no longer counted.',
  leave: 'The readings were left as they are.',
};

const STRUCK = new Set(['current', 'active-power', 'reactive-power', 'apparent-power', 'power-factor']);

/** Whether a fault has touched a value: turned round, a clamp's power; with a wrong ratio, all that goes through it. */
function isTouched(point: KnownPoint, fault: Fault, device: number | undefined): boolean {
  const { quantity } = point.definition;
  if (point.deviceId !== device || point.phase === 'total')
    return point.deviceId === device && isAlone(point, fault);
  const onLine =
    fault.lines.length === 0 || point.phase === null || fault.lines.some((l) => l === point.phase);
  return onLine && (SENSED.has(quantity) || (fault.kind === 'wrong-ratio' && quantity === 'current'));
}

/** A total moves with its lines; with a wrong ratio alike in all of them it is put right itself where they are not read. */
const isAlone = ({ phase, definition }: KnownPoint, { kind }: Fault): boolean =>
  phase === 'total' && kind === 'wrong-ratio' && definition.quantity === 'active-power';

const plain = (sensing: Sensing): Sensing => ({
  kind: sensing.kind,
  ratio: sensing.ratio,
  turns: sensing.turns,
  reversed: sensing.reversed,
  burden: sensing.burden,
  nominalVoltage: sensing.nominalVoltage,
  ratedCurrent: sensing.ratedCurrent,
  accuracyClass: sensing.accuracyClass,
  signal: sensing.signal,
});

function putRight(sensing: Sensing, fault: Fault): Sensing {
  if (fault.kind === 'reversed') return { ...sensing, reversed: !sensing.reversed };
  const factor = fault.factor ?? 1;
  return {
    ...sensing,
    ratio: sensing.ratio / (fault.exact ? factor : (usualFactor(factor, 0.15) ?? factor)),
  };
}
