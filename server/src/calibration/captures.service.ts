import type { CalibrationPointInput, ComparedMeter } from '@loka/contract/calibration';
import type { UsedInstrument } from '@loka/contract/instruments';
import {
  applyCorrection,
  captureOfError,
  comparedPoint,
  correctionAt,
  DIGIT,
  EmptyCaptureError,
  HANDHELD_PERCENT,
  meterReference,
  putRight,
  referenceFrom,
  summariseCapture,
  type CalibrationPoint,
  type Capture,
  type Reference,
} from '@loka/core/calibration';
import { isMessage, stepOf } from '@loka/core/definitions';
import { quantityInfo } from '@loka/core/quantities';
import { applyLine, isGood } from '@loka/core/series';
import { Injectable } from '@nestjs/common';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { InstrumentsService } from '../instruments/instruments.service.js';
import { invalid, invalidField, notFound } from '../problem/errors.js';
import { CorrectionBook } from '../series/correctionBook.js';
import { IntervalBook } from '../series/intervalBook.js';
import { Journal } from '../series/journal.js';
import { LineBook } from '../series/lineBook.js';
import { SampleStore } from '../series/sampleStore.js';

/** The longest capture, so that a slip of the clock does not average a day. */
const LONGEST_CAPTURE = 10 * 60_000;
/** The longest time over which what a counter has counted is compared. */
const LONGEST_COUNT = 400 * 86_400_000;

/** Whether a point is a counter: what it has counted is compared, and not where it stands. */
export const isCounter = ({ definition }: KnownPoint): boolean =>
  quantityInfo(definition.quantity).kind === 'counter';

/** A point as it was taken: what was asked for, what was read, and both as the fit wants them. */
export interface Taken {
  input: CalibrationPointInput;
  capture: Capture;
  /** What it read then, as it was corrected. */
  found: number;
  point: CalibrationPoint;
  /** The instrument as it was then, where one of the site's was used. */
  instrument: UsedInstrument | undefined;
}

/** What was read while a calibration point was held, out of the stored raw samples, and what it was compared with. */
@Injectable()
export class CapturesService {
  constructor(
    private readonly book: DeviceBook,
    private readonly corrections: CorrectionBook,
    private readonly lines: LineBook,
    private readonly store: SampleStore,
    private readonly journal: Journal,
    private readonly instruments: InstrumentsService,
    private readonly intervals: IntervalBook,
  ) {}

  /** Mean and spread of the good samples of a point in a span, raw but for its transducer. */
  async capture(pointId: number, from: number, to: number): Promise<Capture> {
    const point = this.book.point(pointId);
    if (!point) throw notFound('point', pointId);
    if (to <= from) throw invalidField('to', 'The capture ends before it starts.');
    if (isCounter(point)) return this.counted(point, from, to);
    if (to - from > LONGEST_CAPTURE) throw invalidField('to', 'A capture lasts ten minutes at most.');
    await this.store.flush();
    const samples = (await this.journal.readMany([pointId], from, to + 1)).get(pointId) ?? [];
    const good = samples.flatMap(({ t, q, v }) => (isGood(q) && v !== null ? [{ t, v }] : []));
    try {
      return {
        ...summariseCapture(good.map(({ t, v }) => applyLine(this.lines.sensingAt(pointId, t), v))),
        step: this.stepOf(pointId, good),
      };
    } catch (error) {
      if (error instanceof EmptyCaptureError)
        throw invalid(
          'No good reading arrived during the capture. See whether the device answers, then take the point again.',
        );
      throw error;
    }
  }

  /** What a counter has counted between two instants, by the readings that it had then; raw but for its transducer. */
  private async counted({ id, definition }: KnownPoint, from: number, to: number): Promise<Capture> {
    if (to - from > LONGEST_COUNT) throw invalidField('to', 'At most 400 days are counted at a time.');
    await this.store.flush();
    const at = async (t: number, which: 'beginning' | 'end') => {
      const [sample] = (await this.journal.readManyWithCarry([id], t + 1, t + 1)).get(id) ?? [];
      if (
        !sample ||
        sample.v === null ||
        !isGood(sample.q) ||
        t - sample.t > this.intervals.hold(id)(sample.t)
      )
        throw invalid(
          `“${definition.name}” was not read at the ${which} of that time. Choose one at both ends of which it was.`,
        );
      return { t: sample.t, v: applyLine(this.lines.sensingAt(id, sample.t), sample.v) };
    };
    const [first, last] = [await at(from, 'beginning'), await at(to, 'end')];
    const mean = last.v - first.v;
    if (!(mean > 0))
      throw invalid(
        mean === 0
          ? `“${definition.name}” has counted nothing in that time.`
          : `“${definition.name}” went back in that time: it was reset, exchanged, or has rolled over. Choose a time without that.`,
      );
    // Two readings, each with its own step.
    const step = this.stepOf(id, [first, last]) * Math.SQRT2;
    return { count: 1, mean, deviation: 0, spread: 0, step };
  }

  /** The mean of a meter over a span, as it is corrected, and its own standard uncertainty: scatter and step. */
  async compared(pointId: number, from: number, to: number): Promise<ComparedMeter> {
    const { mean, deviation, count, step = 0 } = await this.capture(pointId, from, to);
    const correction = correctionAt(this.corrections.correctionsOf(pointId), to);
    const own = Math.abs(correction?.gain ?? 1) * Math.hypot(deviation / Math.sqrt(count), step * DIGIT);
    return { value: applyCorrection(correction, mean), own };
  }

  /** Smallest change of readings after their transducer; of a message the last decimal that any of them had. */
  private stepOf(pointId: number, samples: readonly { t: number; v: number }[]): number {
    const definition = this.book.point(pointId)?.definition;
    const last = samples.at(-1);
    if (!definition || !last) return 0;
    const step = isMessage(definition)
      ? Math.min(...samples.map(({ v }) => stepOf(definition, v)))
      : stepOf(definition);
    const sensing = this.lines.sensingAt(pointId, last.t);
    return Math.abs(applyLine(sensing, step) - applyLine(sensing, 0));
  }

  /** What was read over the span of a point, and what it was compared with. */
  async takeOne(of: KnownPoint, input: CalibrationPointInput, displacement = 0): Promise<Taken> {
    const capture =
      input.kind === 'bench'
        ? captureOfError(input.reference, input.error as number)
        : await this.capture(of.id, input.from, input.to);
    const reference = input.kind === 'meter' ? await this.otherMeter(of, input) : referenceFrom(input);
    const before = correctionAt(this.corrections.correctionsOf(of.id), input.to);
    const { instrumentId } = input;
    return {
      instrument:
        instrumentId === undefined || input.kind === 'meter'
          ? undefined
          : await this.instruments.used(instrumentId, input.to),
      input: { ...input, reference: reference.value },
      capture,
      found: applyCorrection(before, await this.putRight(of, input, capture.mean, before?.displacement ?? 0)),
      point: comparedPoint(
        { ...capture, mean: await this.putRight(of, input, capture.mean, displacement) },
        reference,
      ),
    };
  }

  /** The mean of an active power once its phase is put right, by what its meter read of the reactive power meanwhile. */
  private async putRight(
    of: KnownPoint,
    { kind, from, to }: CalibrationPointInput,
    mean: number,
    displacement: number,
  ): Promise<number> {
    const reactive = displacement === 0 || kind === 'bench' ? undefined : this.lines.reactiveOf(of.id);
    if (reactive === undefined) return mean;
    return putRight(mean, (await this.capture(reactive, from, to)).mean, displacement);
  }

  /** Another meter on the same conductor, over the same seconds, as it is corrected. */
  private async otherMeter(of: KnownPoint, input: CalibrationPointInput): Promise<Reference> {
    const other = input.pointId === undefined ? undefined : this.book.point(input.pointId);
    if (!other) throw notFound('point to compare with', input.pointId ?? 0);
    if (other.id === of.id) throw invalid('A reading cannot be compared with itself.');
    if (other.definition.quantity !== of.definition.quantity)
      throw invalid(`“${other.definition.name}” is another quantity than “${of.definition.name}”.`);
    const { value, own } = await this.compared(other.id, input.from, input.to);
    return meterReference(`meter ${other.id}`, value, own, input.percent ?? HANDHELD_PERCENT);
  }
}
