import { AsyncLocalStorage } from 'node:async_hooks';
import { saturatesAt, sensingLine } from '@loka/core/sensing';
import { applyLine, chainLines, isIdentity, lineAt, type Line, type LineFrom } from '@loka/core/series';
import { Injectable, OnModuleInit } from '@nestjs/common';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { besideOnConductor } from '../book/nodePoints.js';
import { CorrectionBook } from './correctionBook.js';

/** Another point of the same meter that moves one: a line that moves its total, a reactive power that moves an active one. */
export interface Part {
  id: number;
  /** What is added of its raw value, from an instant on. */
  lines: readonly LineFrom[];
  /** It is in the raw value already, and only the difference is added. */
  isWithin: boolean;
}

/** A correction, and by how many minutes of angle the transducer displaces the phase. */
export type SupposedLine = LineFrom & { displacement?: number | null };

/** What is added of a part for a raw value of it that was read at t. */
export const addedOf = ({ lines, isWithin }: Part, t: number, raw: number): number =>
  applyLine(lineAt(lines, t), raw) - (isWithin ? raw : 0);

/** What turns raw values into readings, by point. */
interface Arranged {
  lines: Map<number, LineFrom[]>;
  sensed: Map<number, LineFrom[]>;
  /** Other points of a meter that move one. */
  parts: Map<number, Part[]>;
  ends: Map<number, { validFrom: number; upTo: number | null }[]>;
}

const NOTHING_ARRANGED: Arranged = {
  lines: new Map(),
  sensed: new Map(),
  parts: new Map(),
  ends: new Map(),
};

/** Quantities of which a meter's total is the sum of its lines. */
const ADDED = new Set(['active-power', 'reactive-power', 'apparent-power']);
const NOTHING: readonly LineFrom[] = [];

/**
 * The one way from a raw value to a corrected one: sensing, then the correction, each as it was in force at the instant
 * of the reading. A total that its meter has added up before anything was corrected moves with its lines.
 */
@Injectable()
export class LineBook implements OnModuleInit {
  private inForce: Arranged = NOTHING_ARRANGED;
  /** What is supposed to hold, for whoever asks what would be if it did. */
  private readonly supposed = new AsyncLocalStorage<Arranged>();

  constructor(
    private readonly corrections: CorrectionBook,
    private readonly devices: DeviceBook,
  ) {}

  onModuleInit(): void {
    const arrange = () => (this.inForce = this.arrange(new Map()));
    this.corrections.reloaded.subscribe(arrange);
    this.devices.reloaded.subscribe(arrange);
    arrange();
  }

  private get now(): Arranged {
    return this.supposed.getStore() ?? this.inForce;
  }

  /**
   * Does something as if these corrections held, each from its instant on and instead of what holds from then on. Nobody
   * else sees them.
   */
  suppose<T>(corrections: ReadonlyMap<number, SupposedLine>, work: () => Promise<T>): Promise<T> {
    return this.supposed.run(this.arrange(corrections), work);
  }

  /** The lines of a point, sensing and correction in one, by the instant from which they hold. */
  linesOf(pointId: number): readonly LineFrom[] {
    return this.now.lines.get(pointId) ?? NOTHING;
  }

  /** Sensing alone: what a calibration starts from. */
  sensingAt(pointId: number, t: number): Line {
    return lineAt(this.now.sensed.get(pointId) ?? NOTHING, t);
  }

  /** Whether any transducer is known with the end of its range. */
  get knowsEnds(): boolean {
    return this.now.ends.size > 0;
  }

  /** Whether a raw current that was read at t is at the end of its transducer's range. */
  isSaturated(pointId: number, t: number, raw: number): boolean {
    const upTo = this.now.ends.get(pointId)?.findLast((e) => e.validFrom <= t)?.upTo ?? null;
    return upTo !== null && Math.abs(applyLine(this.sensingAt(pointId, t), raw)) > upTo;
  }

  /** The other points of its meter that move a point. */
  partsOf(pointId: number): readonly Part[] {
    return this.now.parts.get(pointId) ?? [];
  }

  /** Whether the readings of a point differ from what its device says. */
  isCorrected(pointId: number): boolean {
    return this.now.lines.has(pointId) || this.now.parts.has(pointId);
  }

  /**
   * The corrected value of a raw one that was read at t.
   * @param rawOf the raw value of another point at that instant, null where there is none
   */
  correct(pointId: number, t: number, raw: number, rawOf: (pointId: number) => number | null): number {
    const lines = this.now.lines.get(pointId);
    let value = lines ? applyLine(lineAt(lines, t), raw) : raw;
    for (const part of this.now.parts.get(pointId) ?? []) {
      const other = rawOf(part.id);
      if (other !== null) value += addedOf(part, t, other);
    }
    return value;
  }

  /** The totals that move with a line of a meter, where they are not corrected themselves. */
  totalsWith(pointId: number): number[] {
    const all = this.devices.allPoints();
    return all
      .filter((p) => !this.now.lines.has(p.id) && linesOfTotal(p, all).includes(pointId))
      .map((p) => p.id);
  }

  /** The reactive power of the same meter on the same conductor as an active one; undefined where none is read. */
  reactiveOf(pointId: number): number | undefined {
    const point = this.devices.pointEver(pointId);
    if (point?.definition.quantity !== 'active-power') return undefined;
    return besideOnConductor(this.devices.allPoints(), point, 'reactive-power')?.id;
  }

  private arrange(supposed: ReadonlyMap<number, SupposedLine>): Arranged {
    const lines: Arranged['lines'] = new Map();
    const sensed: Arranged['sensed'] = new Map();
    const ends: Arranged['ends'] = new Map();
    const turned = new Map<number, Part>();
    for (const id of new Set([...this.corrections.touched(), ...supposed.keys()])) {
      const sensing = this.corrections
        .sensingsOf(id)
        .map((s): LineFrom => ({ validFrom: s.validFrom, ...sensingLine(s) }));
      if (sensing.length > 0) sensed.set(id, sensing);
      const own = this.corrections
        .sensingsOf(id)
        .map((s) => ({ validFrom: s.validFrom, upTo: saturatesAt(s) }));
      if (this.devices.point(id)?.definition.quantity === 'current' && own.some((e) => e.upTo !== null))
        ends.set(id, own);
      const instead = supposed.get(id);
      const kept = this.corrections
        .correctionsOf(id)
        .filter((c) => instead === undefined || c.validFrom < instead.validFrom)
        .map(({ validFrom, gain, offset, knots, noLoad, displacement }): SupposedLine => ({
          validFrom,
          gain,
          offset,
          knots,
          noLoad,
          displacement,
        }));
      const held = instead === undefined ? kept : [...kept, instead];
      const reactive = held.some((c) => c.displacement) ? this.reactiveOf(id) : undefined;
      if (reactive !== undefined) {
        const beside = this.corrections
          .sensingsOf(reactive)
          .map((s): LineFrom => ({ validFrom: s.validFrom, ...sensingLine(s) }));
        turned.set(id, {
          id: reactive,
          lines: chainLines(
            beside,
            // Before the first correction nothing of it is added.
            [
              { validFrom: 0, gain: 0, offset: 0 },
              ...held.map((c) => ({
                validFrom: c.validFrom,
                gain: -c.gain * Math.sin(radians(c)),
                offset: 0,
              })),
            ],
          ),
          isWithin: false,
        });
      }
      const correction =
        reactive === undefined ? held : held.map((c) => ({ ...c, gain: c.gain * Math.cos(radians(c)) }));
      const chain = chainLines(sensing, correction);
      // A transducer that is only described changes nothing.
      if (!chain.every(isIdentity)) lines.set(id, chain);
    }
    const parts: Arranged['parts'] = new Map();
    const all = [...this.devices.allPoints(), ...this.devices.formerPoints()];
    for (const point of all) {
      if (lines.has(point.id)) continue;
      const own = linesOfTotal(point, all).filter((id) => lines.has(id));
      if (own.length > 0)
        parts.set(
          point.id,
          own.flatMap((id): Part[] => {
            const part = { id, lines: lines.get(id) as LineFrom[], isWithin: true };
            const reactive = turned.get(id);
            return reactive ? [part, reactive] : [part];
          }),
        );
    }
    for (const [id, reactive] of turned) parts.set(id, [reactive]);
    return { lines, sensed, parts, ends };
  }
}

/** Minutes of angle as radians. */
const radians = ({ displacement }: SupposedLine): number => ((displacement ?? 0) / 60) * (Math.PI / 180);

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
