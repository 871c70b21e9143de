import type { SensingInput, SensingVersion } from '@loka/contract/sensing';
import {
  isSensed,
  PLAIN_SENSING,
  saturatesAt,
  SensingError,
  sensingInWords,
  sensingLine,
  type Sensing,
} from '@loka/core/sensing';
import { applyLine, isIdentity } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In } from 'typeorm';
import { LOCAL_PERSON } from '../audit/person.js';
import { FittingsBook } from '../book/fittingsBook.js';
import { DeviceBook } from '../book/deviceBook.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { LiveReadings } from '../live/liveReadings.js';
import { invalidField, notFound } from '../problem/errors.js';
import { CorrectionBook } from '../series/correctionBook.js';
import { LineBook } from '../series/lineBook.js';
import { RebuildsService } from '../series/rebuilds.service.js';
import { SensingEntity } from '../series/sensing.entity.js';

/** What sits before the meter, as it was fitted on a circuit: versions in time, applied whenever a reading is read. */
@Injectable()
export class SensingService {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly book: DeviceBook,
    private readonly corrections: CorrectionBook,
    private readonly lines: LineBook,
    private readonly rebuilds: RebuildsService,
    private readonly fittings: FittingsBook,
    private readonly live: LiveReadings,
    private readonly changes: ChangeFeed,
  ) {}

  /** The versions of a point, newest first. */
  list(pointId: number): SensingVersion[] {
    if (!this.book.point(pointId)) throw notFound('point', pointId);
    return [...this.corrections.sensingsOf(pointId)].reverse();
  }

  /** Has sensing hold for points from an instant on; one that began at the same instant is replaced. */
  async set({ pointIds, validFrom, ...sensing }: SensingInput, who: string): Promise<SensingVersion[]> {
    if (validFrom > Date.now() + 60_000)
      throw invalidField('validFrom', 'It holds from now or from an earlier instant.');
    const full = {
      ...sensing,
      burden: sensing.burden ?? null,
      nominalVoltage: sensing.nominalVoltage ?? null,
      kind: sensing.kind ?? null,
      ratedCurrent: sensing.ratedCurrent ?? null,
      accuracyClass: sensing.accuracyClass ?? null,
      // Of no other kind does a signal say anything.
      signal: sensing.kind === 'hall' ? (sensing.signal ?? null) : null,
    };
    try {
      const scales = !isIdentity(sensingLine(full));
      for (const id of pointIds) {
        const point = this.book.point(id);
        if (!point) throw notFound('point', id);
        if (scales && !isSensed(point.definition.quantity, full.kind))
          throw invalidField(
            'pointIds',
            full.kind === 'voltage-transformer'
              ? `“${point.definition.name}” is not a voltage: a voltage transformer does not apply to it.`
              : `“${point.definition.name}” does not go through a current transformer: turns and ratio do not apply to it.`,
          );
        const isNewest = this.corrections.sensingsOf(id).every((s) => s.validFrom <= validFrom);
        // What is read now says nothing about a transducer that is there no more.
        if (isNewest) this.refuseTooSmall(id, full);
      }
    } catch (error) {
      if (error instanceof SensingError) throw invalidField(error.field, `${capital(error.message)}.`);
      throw error;
    }
    const kind = this.changesReadings(pointIds, validFrom, full) ? 'transducer' : 'described';
    const plan = await this.db.transaction(async (tables) => {
      await tables.upsert(
        SensingEntity,
        pointIds.map((pointId) => ({ pointId, validFrom, ...full, who, at: Date.now() })),
        ['pointId', 'validFrom'],
      );
      const moved = pointIds.flatMap((id) => [id, ...this.lines.totalsWith(id)]);
      return this.rebuilds.plan(tables, moved, validFrom, { own: false });
    });
    await this.fittings.add(this.placesOf(pointIds), kind, sensingInWords(full), who, validFrom);
    await this.after('Virtual meters brought up to date', plan);
    return pointIds.flatMap((id) => this.list(id).filter((v) => v.validFrom === validFrom));
  }

  /** Whether readings are something else with it than they were before: what is only described changes none. */
  private changesReadings(pointIds: readonly number[], validFrom: number, sensing: Sensing): boolean {
    const line = sensingLine(sensing);
    return pointIds.some((id) => {
      const before = this.corrections.sensingsOf(id).findLast((s) => s.validFrom <= validFrom);
      const { gain, offset } = sensingLine(before ?? PLAIN_SENSING);
      return gain !== line.gain || offset !== line.offset;
    });
  }

  /** What is read now cannot come of a transducer that ends below it: its rating is another, often the secondary's. */
  private refuseTooSmall(pointId: number, sensing: Sensing): void {
    const upTo = saturatesAt(sensing);
    const reading = this.live.get(pointId);
    if (upTo === null || reading?.raw == null || this.book.point(pointId)?.definition.quantity !== 'current')
      return;
    const amperes = Math.abs(applyLine(sensingLine(sensing), reading.raw));
    if (amperes > upTo)
      throw invalidField(
        'ratedCurrent',
        `It would read ${amperes.toPrecision(3)} A now, and a transducer of ${sensing.ratedCurrent} A ends at ${upTo.toPrecision(3)} A. Its rating is the primary current that is printed on it; a ratio that the device applies already is 1 here.`,
      );
  }

  /** Takes a version back: what held before it holds again. */
  async takeBack(ids: readonly number[]): Promise<void> {
    const rows = await this.corrections.sensingRows.findBy({ id: In([...ids]) });
    if (rows.length < ids.length) throw notFound('sensing', ids.join(', '));
    const plan = await this.db.transaction(async (tables) => {
      await tables.delete(SensingEntity, [...ids]);
      const from = Math.min(...rows.map((r) => r.validFrom));
      const moved = rows.flatMap((r) => [r.pointId, ...this.lines.totalsWith(r.pointId)]);
      return this.rebuilds.plan(tables, moved, from, { own: false });
    });
    const from = Math.min(...rows.map((r) => r.validFrom));
    const places = this.placesOf(rows.map((r) => r.pointId));
    await this.fittings.add(places, 'transducer', 'Taken back: as it was before', LOCAL_PERSON, from);
    await this.after('Virtual meters brought back to what they were', plan);
  }

  private placesOf(pointIds: readonly number[]): number[] {
    return pointIds.flatMap((id) => this.book.point(id)?.nodeId ?? []);
  }

  private async after(title: string, plan: Awaited<ReturnType<RebuildsService['plan']>>): Promise<void> {
    await this.corrections.reload();
    this.changes.say('calibrations', 'installation', 'devices', 'history');
    if (plan.length > 0) void this.rebuilds.run(title, plan);
  }
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
