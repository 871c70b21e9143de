import { sensingLine } from '@loka/core/sensing';
import { applyLine, chainLines, isIdentity, lineAt, type Line, type LineFrom } from '@loka/core/series';
import { Injectable, OnModuleInit } from '@nestjs/common';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { CorrectionBook } from './correctionBook.js';

/** Quantities of which a meter's total is the sum of its lines. */
const ADDED = new Set(['active-power', 'reactive-power', 'apparent-power']);
const NOTHING: readonly LineFrom[] = [];

/**
 * The one way from a raw value to a corrected one: sensing, then the correction, each as it was in force at the instant
 * of the reading. A total that its meter has added up before anything was corrected moves with its lines.
 */
@Injectable()
export class LineBook implements OnModuleInit {
  private lines = new Map<number, LineFrom[]>();
  private sensed = new Map<number, LineFrom[]>();
  private parts = new Map<number, number[]>();

  constructor(
    private readonly corrections: CorrectionBook,
    private readonly devices: DeviceBook,
  ) {}

  onModuleInit(): void {
    this.corrections.reloaded.subscribe(() => this.arrange());
    this.devices.reloaded.subscribe(() => this.arrange());
    this.arrange();
  }

  /** The lines of a point, sensing and correction in one, by the instant from which they hold. */
  linesOf(pointId: number): readonly LineFrom[] {
    return this.lines.get(pointId) ?? NOTHING;
  }

  /** Sensing alone: what a calibration starts from. */
  sensingAt(pointId: number, t: number): Line {
    return lineAt(this.sensed.get(pointId) ?? NOTHING, t);
  }

  /** The lines of a meter that move its total, where one of them is corrected and the total is not. */
  partsOf(pointId: number): readonly number[] {
    return this.parts.get(pointId) ?? [];
  }

  /** Whether the readings of a point differ from what its device says. */
  isCorrected(pointId: number): boolean {
    return this.lines.has(pointId) || this.parts.has(pointId);
  }

  /**
   * The corrected value of a raw one that was read at t.
   * @param rawOf the raw value of another point at that instant, null where there is none
   */
  correct(pointId: number, t: number, raw: number, rawOf: (pointId: number) => number | null): number {
    const lines = this.lines.get(pointId);
    let value = lines ? applyLine(lineAt(lines, t), raw) : raw;
    for (const id of this.parts.get(pointId) ?? []) {
      const part = rawOf(id);
      if (part !== null) value += applyLine(lineAt(this.linesOf(id), t), part) - part;
    }
    return value;
  }

  /** The totals that move with a line of a meter, where they are not corrected themselves. */
  totalsWith(pointId: number): number[] {
    const all = this.devices.allPoints();
    return all
      .filter((p) => !this.lines.has(p.id) && linesOfTotal(p, all).includes(pointId))
      .map((p) => p.id);
  }

  private arrange(): void {
    const lines = new Map<number, LineFrom[]>();
    const sensed = new Map<number, LineFrom[]>();
    for (const id of this.corrections.touched()) {
      const sensing = this.corrections
        .sensingsOf(id)
        .map((s): LineFrom => ({ validFrom: s.validFrom, ...sensingLine(s) }));
      if (sensing.length > 0) sensed.set(id, sensing);
      const correction = this.corrections
        .correctionsOf(id)
        .map(({ validFrom, gain, offset }): LineFrom => ({ validFrom, gain, offset }));
      const chain = chainLines(sensing, correction);
      // A transducer that is only described changes nothing.
      if (!chain.every(isIdentity)) lines.set(id, chain);
    }
    this.lines = lines;
    this.sensed = sensed;
    this.parts = new Map();
    const all = [...this.devices.allPoints(), ...this.devices.formerPoints()];
    for (const point of all) {
      if (lines.has(point.id)) continue;
      const own = linesOfTotal(point, all).filter((id) => lines.has(id));
      if (own.length > 0) this.parts.set(point.id, own);
    }
  }
}

/** The points of the lines that a meter's total is the sum of. */
function linesOfTotal(total: KnownPoint, points: readonly KnownPoint[]): number[] {
  if (total.phase !== 'total' || total.deviceId === null || !ADDED.has(total.definition.quantity)) return [];
  return points
    .filter(
      (p) =>
        p.deviceId === total.deviceId &&
        p.definition.quantity === total.definition.quantity &&
        p.nodeId === total.nodeId &&
        (p.phase === 'L1' || p.phase === 'L2' || p.phase === 'L3'),
    )
    .map((p) => p.id);
}
