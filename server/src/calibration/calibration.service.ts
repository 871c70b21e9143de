import type {
  Calibration,
  CalibrationInput,
  CalibrationPoint,
  ChangedMonth,
  CorrectionInForce,
  DueSeen,
} from '@loka/contract/calibration';
import {
  applyCorrection,
  bestClass,
  classesOf,
  comparedPoint,
  correctionAt,
  errorUncertainty,
  fitCorrection,
  FitError,
  judgedLoads,
  percentError,
  ratedLoad,
  type ClassVerdict,
  type Fit,
  type FitMethod,
} from '@loka/core/calibration';
import type { Line } from '@loka/core/series';
import { monthsAfter } from '@loka/core/time';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In } from 'typeorm';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { besideOnConductor } from '../book/nodePoints.js';
import { InstallationBook } from '../book/installationBook.js';
import { EnergyService } from '../energy/energy.service.js';
import { invalid, invalidField, notFound, Problem } from '../problem/errors.js';
import { CorrectionBook } from '../series/correctionBook.js';
import { CorrectionEntity } from '../series/correction.entity.js';
import { LineBook, type SupposedLine } from '../series/lineBook.js';
import { RebuildEntity } from '../series/rebuild.entity.js';
import { SiteService } from '../site/site.service.js';
import { CalibrationEntity } from './calibration.entity.js';
import { InForceService } from './inForce.service.js';
import { RefusalsService } from './refusals.service.js';
import { CapturesService, isCounter, type Taken } from './captures.service.js';

/** So much of the past is looked at before a correction is applied, ms. */
const PREVIEWED = 400 * 86_400_000;
/** A calibration should be done again after two years (common practice), where nothing else is said. */
const DUE_MONTHS = 24;

/** Calibrations: the fit of what was captured, and the corrections that come of it. */
@Injectable()
export class CalibrationService {
  /** So that of two who calibrate the same point in the same moment the second finds what the first has made. */
  private making: Promise<unknown> = Promise.resolve();

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly book: DeviceBook,
    private readonly tree: InstallationBook,
    private readonly corrections: CorrectionBook,
    private readonly lines: LineBook,
    private readonly energy: EnergyService,
    private readonly captures: CapturesService,
    private readonly inForce: InForceService,
    private readonly sites: SiteService,
    private readonly refusals: RefusalsService,
  ) {}

  async list(pointId: number): Promise<Calibration[]> {
    const [rows, corrections] = await Promise.all([
      this.db.getRepository(CalibrationEntity).find({ where: { pointId }, order: { id: 'DESC' } }),
      this.db.getRepository(CorrectionEntity).findBy({ pointId }),
    ]);
    const inForce = (id: number) =>
      corrections.some((c) => c.calibrationId === id && c.supersededBy === null && c.undoneAt === null);
    const newest = rows.find((row) =>
      corrections.some((c) => c.calibrationId === row.id && c.undoneAt === null),
    );
    const volts = (await this.sites.get())?.nominalVoltage ?? 0;
    const devices = await this.devicesOf(rows.flatMap((r) => (r.copiedFrom === null ? [] : [r.copiedFrom])));
    return rows.map(({ evidence, copiedFrom, ...row }) => ({
      ...row,
      copiedFrom: copiedFrom === null ? null : { id: copiedFrom, device: devices.get(copiedFrom) ?? '' },
      points: evidence,
      best: this.bestOf(row, evidence, volts),
      superseded: !inForce(row.id),
      undoable: row.id === newest?.id,
    }));
  }

  /** What corrects a point now; null where nothing does. */
  async holding(pointId: number): Promise<{ correction: CorrectionInForce | null }> {
    const row = correctionAt(this.corrections.correctionsOf(pointId), Date.now());
    if (!row) return { correction: null };
    const { gain, offset, knots, noLoad, displacement, validFrom, calibrationId } = row;
    const calibration = await this.db.getRepository(CalibrationEntity).findOneBy({ id: calibrationId });
    const other = calibration && calibration.pointId !== pointId ? calibration.pointId : null;
    return {
      correction: {
        ...{ gain, offset, knots, noLoad, displacement, validFrom },
        with: other === null ? null : (this.book.pointEver(other)?.definition.name ?? null),
      },
    };
  }

  /** By when points that were calibrated are to be calibrated again, the earliest first. */
  async due(): Promise<DueSeen[]> {
    const inForce = this.book
      .allPoints()
      .flatMap(({ id }) =>
        this.corrections.has(id) ? (this.corrections.correctionsOf(id).at(-1)?.calibrationId ?? []) : [],
      );
    const rows = await this.db.getRepository(CalibrationEntity).find({
      select: { pointId: true, dueAt: true },
      where: { id: In(inForce) },
    });
    return rows
      .flatMap(({ pointId, dueAt }) => (dueAt === null ? [] : [{ pointId, dueAt }]))
      .sort((a, b) => a.dueAt - b.dueAt);
  }

  /** Of which devices calibrations are. */
  private async devicesOf(ids: number[]): Promise<Map<number, string>> {
    const rows = await this.db.getRepository(CalibrationEntity).findBy({ id: In(ids) });
    return new Map(rows.map((r) => [r.id, this.book.pointEver(r.pointId)?.deviceName ?? '']));
  }

  /**
   * Energy of the place by calendar month, as it is and as it would be with the correction that the points call for; the
   * newest months, from the instant on from which it is to hold.
   */
  async preview(input: CalibrationInput): Promise<ChangedMonth[]> {
    const point = this.book.point(input.pointId);
    if (!point) throw notFound('point', input.pointId);
    if (point.nodeId === null) return [];
    const taken = await Promise.all(
      input.points.map((p) => this.captures.takeOne(point, p, input.displacement)),
    );
    const { gain, offset, knots = null } = this.fit(taken, methodFor(point, input));
    const noLoad = input.noLoad ?? null;
    const { validFrom } = input;
    const power = input.withPower ? this.powerOfSameClamp(point) : undefined;
    const supposed = new Map<number, SupposedLine>([
      [point.id, { validFrom, gain, offset, knots, noLoad, displacement: input.displacement ?? null }],
    ]);
    if (power) supposed.set(power.id, { validFrom, gain, offset: 0 });
    const to = Date.now();
    const from = Math.max(validFrom, to - PREVIEWED);
    if (from >= to) return [];
    const months = () => this.energy.calendar(from, to, 'month', [point.nodeId as number]);
    const before = await months();
    const after = await this.lines.suppose(supposed, months);
    return before.borders.slice(1).map((end, i) => ({
      from: before.borders[i] as number,
      to: end,
      before: before.nodes[0]?.net[i] ?? null,
      after: after.nodes[0]?.net[i] ?? null,
    }));
  }

  /** Makes a calibration, puts its correction in force, and starts bringing the past up to date; one after the other. */
  make(input: CalibrationInput, who: string): Promise<Calibration> {
    const turn = this.making.then(() => this.makeInTurn(input, who));
    this.making = turn.catch(() => undefined);
    return turn;
  }

  private async makeInTurn(input: CalibrationInput, who: string): Promise<Calibration> {
    const point = this.book.point(input.pointId);
    if (!point) throw notFound('point', input.pointId);
    if (input.validFrom > Date.now() + 60_000)
      throw invalidField('validFrom', 'A correction holds from now or from an earlier instant.');
    this.refusals.stale(
      input,
      (await this.list(point.id)).find((c) => c.undoable),
    );
    await this.refusals.acrossChange(point, input);
    const taken = await Promise.all(
      input.points.map((p) => this.captures.takeOne(point, p, input.displacement)),
    );
    const fit = this.fit(taken, methodFor(point, input));
    const { gain, offset } = fit;
    const line = {
      gain,
      offset,
      knots: fit.knots?.map(({ raw, value }) => ({ raw, value })) ?? null,
      noLoad: input.noLoad ?? null,
      displacement: input.displacement || null,
    };
    this.refusals.displacement(point, input);
    if (!input.meant) this.refusals.doubtful(point, fit, taken, line.noLoad);
    const evidence = taken.map((t) => this.evidence(t, fit, line));
    const power = input.withPower ? this.powerOfSameClamp(point) : undefined;
    const { validFrom } = input;
    const { timeZone } = await this.sites.require();
    const { calibration, rebuilds } = await this.db.transaction(async (tables) => {
      const row = {
        pointId: point.id,
        madeAt: Date.now(),
        validFrom,
        ...line,
        fit,
        evidence,
        powerPointId: power?.id ?? null,
        who,
        dueAt: monthsAfter(timeZone, Date.now(), input.dueMonths ?? DUE_MONTHS),
        copiedFrom: null,
      };
      const calibration = await tables.save(CalibrationEntity, row);
      await this.inForce.put(tables, calibration.id, point.id, { validFrom, ...line });
      // The transducer's gain error is in its power as well; its zero is not.
      if (power) await this.inForce.put(tables, calibration.id, power.id, { validFrom, gain, offset: 0 });
      const rebuilds = await this.inForce.planDependents(tables, row, calibration.id);
      return { calibration, rebuilds };
    });
    await this.inForce.follow(
      `Virtual meters brought up to date: ${point.deviceName}, ${point.definition.name}`,
      rebuilds,
      () => this.undo(calibration.id),
    );
    return (await this.list(point.id)).find((c) => c.id === calibration.id) as Calibration;
  }

  /** Takes the newest calibration of a point back; what it had replaced is in force again. */
  async undo(id: number): Promise<void> {
    const calibration = await this.db.getRepository(CalibrationEntity).findOneBy({ id });
    if (!calibration) throw notFound('calibration', id);
    const mine = (await this.list(calibration.pointId)).find((c) => c.id === id);
    if (!mine?.undoable)
      throw new Problem('not-newest', 'A newer calibration stands on this one. Take that back first.');
    const rebuilds = await this.db.transaction(async (tables) => {
      await tables.update(CorrectionEntity, { calibrationId: id }, { undoneAt: Date.now() });
      await tables.update(CorrectionEntity, { supersededBy: id }, { supersededBy: null });
      await tables.delete(RebuildEntity, { calibrationId: id });
      return this.inForce.planDependents(tables, calibration, null);
    });
    await this.inForce.follow('Virtual meters brought back to what they were', rebuilds);
  }

  /** The power that the same clamp gives: same device, same place, same conductor. */
  powerOfSameClamp(point: KnownPoint): KnownPoint | undefined {
    if (point.definition.quantity !== 'current' || point.nodeId === null) return undefined;
    return besideOnConductor(this.book.allPoints(), point, 'active-power');
  }

  private fit(taken: readonly Taken[], method?: FitMethod): Fit {
    const fitted = taken.filter((t) => !t.input.check);
    if (fitted.length === 0) throw invalid('All points are check points. At least one has to be in the fit.');
    try {
      return fitCorrection(
        fitted.map((t) => t.point),
        { turned: true, ...(method && { method }) },
      );
    } catch (error) {
      if (!(error instanceof FitError)) throw error;
      const { message } = error;
      const field = `points.${taken.lastIndexOf(fitted.at(-1) as Taken)}.reference`;
      throw invalid(`No correction fits these points: ${message}.`, [{ field, message }]);
    }
  }

  private evidence(
    { input, capture, found, point, instrument }: Taken,
    fit: Fit,
    line: Line,
  ): CalibrationPoint {
    return {
      ...input,
      capture,
      asFound: percentError(found, point.reference),
      asLeft: percentError(applyCorrection(line, point.raw), point.reference),
      uncertainty: errorUncertainty(fit, point),
      own: point.own ?? 0,
      shared: point.shared ?? 0,
      key: point.key ?? '',
      ...(point.raw !== capture.mean && { turned: point.raw }),
      ...(instrument && { instrument }),
    };
  }

  /** The best class that a calibration is evidence for, of a current or a power, by what its place is rated for. */
  private bestOf(
    { pointId, fit, noLoad }: Pick<CalibrationEntity, 'pointId' | 'fit' | 'noLoad'>,
    evidence: CalibrationPoint[],
    volts: number,
  ): ClassVerdict | null {
    const point = this.book.pointEver(pointId);
    const node = point?.nodeId == null ? undefined : this.tree.node(point.nodeId);
    if (!fit || !point || !node) return null;
    const { quantity } = point.definition;
    const lines = point.phase === 'total' ? node.phases.split(' ').length : 1;
    const rated = ratedLoad(quantity, node.ratedCurrent, volts, lines);
    if (rated === null) return null;
    const points = evidence.map(({ capture, check = false, turned = capture.mean, ...e }) => ({
      ...comparedPoint(
        { ...capture, mean: turned },
        {
          value: e.reference,
          own: e.own ?? 0,
          shared: e.shared ?? 0,
          key: e.key ?? '',
        },
      ),
      check,
    }));
    return bestClass(judgedLoads({ ...fit, noLoad }, points), rated, classesOf(quantity));
  }
}

/** What a counter has counted is scaled: an offset, a bend or a floor of where it stands would mean nothing. */
function methodFor(point: KnownPoint, { method, noLoad }: CalibrationInput): FitMethod | undefined {
  if (!isCounter(point)) return method;
  if ((method !== undefined && method !== 'gain') || noLoad)
    throw invalidField('method', 'For a counter only the gain is found.');
  return 'gain';
}
