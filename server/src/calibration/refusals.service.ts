import type { Calibration, CalibrationInput } from '@loka/contract/calibration';
import { doubtOfFloor, doubtsOf, isSteady, type Fit } from '@loka/core/calibration';
import { quantityInfo } from '@loka/core/quantities';
import { Injectable } from '@nestjs/common';
import type { KnownPoint } from '../book/deviceBook.js';
import { FittingsBook } from '../book/fittingsBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { ChangedMeanwhile, invalidField, Problem } from '../problem/errors.js';
import { LineBook } from '../series/lineBook.js';
import type { Taken } from './captures.service.js';

/** What a calibration is refused for, and what is asked about first. Each throws the Problem that says why. */
@Injectable()
export class RefusalsService {
  constructor(
    private readonly tree: InstallationBook,
    private readonly lines: LineBook,
    private readonly fittings: FittingsBook,
  ) {}

  /** Of two people who calibrate the same point the second hears of the first. @param newest the newest that there is now */
  stale({ basis }: CalibrationInput, newest: Calibration | undefined): void {
    if (basis === undefined || (newest?.id ?? 0) === basis) return;
    throw new ChangedMeanwhile('correction', newest?.id ?? 0, {
      gain: newest?.gain ?? 1,
      offset: newest?.offset ?? 0,
      who: newest?.who ?? '',
      madeAt: newest?.madeAt ?? 0,
    });
  }

  /** What was found with one wiring says nothing about another one, unless somebody says that it does. */
  async acrossChange({ nodeId }: KnownPoint, input: CalibrationInput): Promise<void> {
    if (nodeId === null) return;
    const first = Math.min(...input.points.map((p) => p.from));
    const last = Math.max(...input.points.map((p) => p.to));
    const within = await this.fittings.lastChange(nodeId, first, last);
    if (within)
      throw new Problem(
        'changed-between',
        `Points were taken before and after a change (${within.says}): they do not belong together. Take them again.`,
      );
    if (input.anyway) return;
    const since = await this.fittings.lastChange(nodeId, last, Date.now());
    if (since)
      throw new Problem('across-change', `What it was found with has been changed since: ${since.says}.`);
    const change = await this.fittings.lastChange(nodeId, input.validFrom, first);
    if (change)
      throw new Problem(
        'across-change',
        `It would reach back over a change of what it was found with: ${change.says}.`,
        [{ field: 'validFrom', message: String(change.at) }],
      );
  }

  /** @throws Problem where a displaced phase cannot be put right */
  displacement(point: KnownPoint, { displacement, method }: CalibrationInput): void {
    if (!displacement) return;
    if (method === 'pieces')
      throw invalidField(
        'displacement',
        'A line from point to point cannot correct a phase displacement as well.',
      );
    if (this.lines.reactiveOf(point.id) === undefined)
      throw invalidField(
        'displacement',
        `“${point.definition.name}” has no reactive power of the same meter and conductor beside it: a displaced phase cannot be put right.`,
      );
  }

  /** @throws Problem about which a person is asked */
  doubtful(
    { nodeId, definition }: KnownPoint,
    fit: Fit,
    taken: readonly Taken[],
    noLoad: number | null,
  ): void {
    const zeros = taken.filter((t) => t.point.reference === 0).map((t) => t.point.raw);
    const { unit } = quantityInfo(definition.quantity);
    const isCurrent = definition.quantity === 'current';
    const rated = isCurrent && nodeId !== null ? (this.tree.node(nodeId)?.ratedCurrent ?? null) : null;
    // A small power or voltage without a load is no sign of one.
    const doubts = doubtsOf(fit, isCurrent ? zeros : [], rated, unit).map((d) => d.says);
    const floor = doubtOfFloor(
      noLoad,
      taken.map((t) => t.point.reference),
      rated,
      unit,
    );
    if (floor) doubts.push(floor.says);
    for (const { instrument } of taken)
      if (instrument?.wasDue) {
        const says = `“${instrument.name}” was due for its own calibration on ${instrument.dueOn}.`;
        if (!doubts.includes(says)) doubts.push(says);
      }
    for (const { input, capture } of taken)
      if (!isSteady(capture, definition.quantity))
        doubts.push(
          `“${input.label}” moved by ${Number(capture.spread.toPrecision(3))} ${unit} while it was averaged.`,
        );
    if (doubts.length > 0) throw new Problem('doubtful', doubts.join(' '));
  }
}
