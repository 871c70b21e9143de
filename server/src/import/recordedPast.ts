import { CalibrationInput, type CalibrationPointInput } from '@loka/contract/calibration';
import { InstrumentInput } from '@loka/contract/instruments';
import { quantityInfo } from '@loka/core/quantities';
import { HOUR, MINUTE, QUALITY, type Sample } from '@loka/core/series';
import { monthsAfter, siteDay } from '@loka/core/time';
import type { INestApplicationContext } from '@nestjs/common';
import { least } from 'd3-array';
import { randomUUID } from 'node:crypto';
import { DataSource, IsNull } from 'typeorm';
import { AlertEntity, AlertRuleEntity } from '../alerts/alert.entity.js';
import { replay } from '../alerts/replay.js';
import { DeviceBook } from '../book/deviceBook.js';
import { SwitchBook } from '../book/switchBook.js';
import { CalibrationEntity } from '../calibration/calibration.entity.js';
import { CalibrationService } from '../calibration/calibration.service.js';
import { SwitchOperationEntity } from '../control/control.entity.js';
import { InstrumentsService } from '../instruments/instruments.service.js';
import { SiteService } from '../site/site.service.js';
import { checked, SiteFileError, type PastFile } from './siteFile.js';

/** A column of recorded history. */
export interface Recorded {
  pointId: number;
  values: readonly number[];
}

const DAY = 24 * HOUR;
/** A calibration point averages so many readings. */
const AVERAGED = 5;
/** By what the instrument was off at one point after the other, as a share of what it shows: well within its tolerance. */
const OFF = [0.0011, -0.0007, 0.0004, -0.0013, 0.0009];
/** Of the largest load of a day: about all of it, about half of it. */
const LEVELS = [
  [0.9, 1],
  [0.35, 0.7],
] as const;
/** How soon after it was raised an alert was seen, ms, one after the other. */
const SEEN_AFTER = [3, 11, 2, 27, 6, 44, 9].map((minutes) => minutes * MINUTE);
/** On the i-th day a switch was closed so long before the load's first use, and opened so long after its last, ms. */
const beforeUse = (i: number): number => (12 + ((7 * i) % 11)) * MINUTE + ((17 * i) % 60) * 1000;
const afterUse = (i: number): number => (16 + ((5 * i) % 13)) * MINUTE + ((29 * i) % 60) * 1000;

/** Readings that a calibration point averages. */
interface Stretch {
  from: number;
  to: number;
  mean: number;
}

/**
 * What people did while the recorded history of a site was made: calibrations, alerts that they saw, switches that they
 * operated. All of it agrees with the readings: the fits are made of them, the alerts are what the rules find in them.
 */
export class RecordedPast {
  private readonly sql: DataSource;

  constructor(
    private readonly app: INestApplicationContext,
    private readonly times: readonly number[],
    /** By "device ref/key". */
    private readonly columns: ReadonlyMap<string, Recorded>,
    private readonly switchOf: (ref: string) => number,
  ) {
    this.sql = app.get(DataSource);
  }

  /** @param said what could not be made: a calibration of a load that was never steady */
  async live(past: PastFile, said: (text: string) => void): Promise<void> {
    await this.calibrate(past, said);
    await this.alert(past);
    await this.operate(past);
  }

  private async calibrate(
    { instruments, calibrations }: PastFile,
    said: (text: string) => void,
  ): Promise<void> {
    const ids = new Map<string, InstrumentInput & { id: number }>();
    for (const { ref, ...instrument } of instruments) {
      const input = checked(InstrumentInput, instrument, `instrument ${ref}`);
      ids.set(ref, { ...input, id: (await this.app.get(InstrumentsService).save(null, input)).id });
    }
    const { timeZone } = await this.app.get(SiteService).require();
    for (const [k, calibration] of calibrations.entries()) {
      const { point, withPower, instrument, daysAgo, device, digit, who } = calibration;
      const { pointId, values } = this.column(point);
      const used = ids.get(instrument);
      if (!used) throw new SiteFileError(`there is no instrument ${instrument} in the file`);
      const steady = this.loads(values, daysAgo);
      if (steady.length === 0) {
        said(`${point} is not calibrated: its load was never steady in the last ${daysAgo} days`);
        continue;
      }
      const points = steady.map(({ from, to, mean }, i) => ({
        label: `Load ${i + 1}`,
        from,
        to,
        reference: rounded(
          ((mean - device.zero) / device.gain) * (1 + (OFF[(2 * k + i) % OFF.length] as number)),
          digit,
        ),
        kind: 'instrument',
        instrumentId: used.id,
        percent: used.percent,
        digit,
      })) satisfies CalibrationPointInput[];
      const at = Math.max(...points.map((p) => p.to)) + MINUTE;
      const input = checked(
        CalibrationInput,
        { pointId, points, validFrom: at, withPower: withPower ?? false, meant: true },
        `calibration of ${point}`,
      );
      const { id } = await this.app.get(CalibrationService).make(input, who);
      await this.sql
        .getRepository(CalibrationEntity)
        .update(id, { madeAt: at, dueAt: monthsAfter(timeZone, at, 24) });
    }
  }

  /** The loads of the first day from one on that has them, which a day on which the business is closed has not; none without such a day. */
  private loads(values: readonly number[], daysAgo: number): Stretch[] {
    const most = values.reduce((a, b) => Math.max(a, b), 0);
    for (let days = daysAgo; days > 0; days--) {
      const found = this.steadiest(values, days);
      if (found[0] && found[0].mean > 0.6 * most) return found;
    }
    return [];
  }

  /** Of a day, the steadiest stretches at its largest load and at about half of it; where it has them. */
  private steadiest(values: readonly number[], daysAgo: number): Stretch[] {
    const end = (this.times.at(-1) as number) - (daysAgo - 1) * DAY;
    const stretches: (Stretch & { spread: number })[] = [];
    for (let i = 0; i + AVERAGED <= values.length; i++) {
      const from = this.times[i] as number;
      if (from < end - DAY || from >= end) continue;
      const part = values.slice(i, i + AVERAGED);
      const mean = part.reduce((sum, v) => sum + v, 0) / AVERAGED;
      const spread = Math.max(...part) - Math.min(...part);
      stretches.push({ from, to: this.times[i + AVERAGED - 1] as number, mean, spread });
    }
    const largest = Math.max(...stretches.map((s) => s.mean));
    return LEVELS.flatMap(([low, high]) => {
      const within = stretches.filter((s) => s.mean >= low * largest && s.mean <= high * largest);
      const best = least(within, (s) => s.spread);
      return best && best.spread <= 0.03 * largest && largest > 0 ? [best] : [];
    });
  }

  private async alert({ seenBy }: PastFile): Promise<void> {
    const book = this.app.get(DeviceBook);
    const rules = await this.sql.getRepository(AlertRuleEntity).findBy({ removedAt: IsNull() });
    const alerts = rules.flatMap((rule) => {
      const recorded = [...this.columns.values()].find((column) => column.pointId === rule.pointId);
      const quantity = book.point(rule.pointId)?.definition.quantity;
      return recorded && quantity ? replay(rule, this.samples(recorded), quantityInfo(quantity).unit) : [];
    });
    alerts.sort((a, b) => a.raisedAt - b.raisedAt);
    const end = this.times.at(-1) as number;
    alerts.forEach((alert, i) => {
      const seenAt = alert.raisedAt + (SEEN_AFTER[i % SEEN_AFTER.length] as number);
      // The newest one nobody has seen yet, and nobody sees any in the future.
      if (i === alerts.length - 1 || seenAt > end) return;
      alert.acknowledgedAt = seenAt;
      alert.acknowledgedBy = seenBy[i % seenBy.length] as string;
    });
    await this.sql.getRepository(AlertEntity).insert(alerts);
  }

  /** A switch that is closed before its load is used and opened after it, day by day. */
  private async operate({ shifts }: PastFile): Promise<void> {
    const { timeZone } = await this.app.get(SiteService).require();
    for (const { switch: ref, point, above, who, before, after } of shifts) {
      const { values } = this.column(point);
      const switchId = this.switchOf(ref);
      const name =
        this.app
          .get(SwitchBook)
          .all()
          .find((s) => s.id === switchId)?.name ?? '';
      const days = new Map<number, { first: number; last: number }>();
      this.times.forEach((t, i) => {
        if ((values[i] as number) <= above) return;
        const { start } = siteDay(timeZone, t);
        days.set(start, { first: days.get(start)?.first ?? t, last: t });
      });
      const operations = [...days.values()]
        .sort((a, b) => a.first - b.first)
        .flatMap(({ first, last }, i) => [
          // As it is fitted, it is closed.
          ...(i === 0 ? [] : [operation(first - beforeUse(i), true, before)]),
          ...(i === days.size - 1 ? [] : [operation(last + afterUse(i), false, after)]),
        ]);
      await this.sql
        .getRepository(SwitchOperationEntity)
        .insert(operations.map((o) => ({ ...o, switchId, switchName: name, who })));
    }
  }

  private *samples({ values }: Recorded): Generator<Sample> {
    for (const [i, t] of this.times.entries()) yield { t, v: values[i] as number, q: QUALITY.good };
  }

  private column(point: string): Recorded {
    const column = this.columns.get(point);
    if (!column) throw new SiteFileError(`there is no recorded history of ${point}`);
    return column;
  }
}

/** Carried out, as the contact said half a second later. */
const operation = (at: number, closed: boolean, reason: string) => ({
  id: randomUUID(),
  at,
  closed,
  cause: 'person' as const,
  reason,
  outcome: 'confirmed' as const,
  outcomeAt: at + 500,
  message: null,
});

const rounded = (value: number, digit: number): number =>
  Number((Math.round(value / digit) * digit).toPrecision(9));
