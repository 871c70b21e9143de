import type { Sample } from '@loka/core/series';
import { Injectable } from '@nestjs/common';

/** Computes points from others; the virtual meters do. */
export interface Deriving {
  /** The points that are computed from one, directly or not. */
  dependents(pointId: number): readonly number[];
  isDerived(pointId: number): boolean;
  /** Points in an order in which each comes after what it is computed from. */
  order(pointIds: readonly number[]): number[];
  /** At which interval a derived point is computed at t, ms, and when that next changes. */
  intervalAt(pointId: number, t: number): number;
  changeAfter(pointId: number, t: number): number;
  /** The samples of a derived point in [from, to), from the readings of its inputs. */
  compute(pointId: number, from: number, to: number): Promise<Sample[]>;
}

const NONE: Deriving = {
  dependents: () => [],
  isDerived: () => false,
  order: (ids) => [...ids],
  intervalAt: () => 1000,
  changeAfter: () => Infinity,
  compute: () => Promise.resolve([]),
};

/** Where the series learn which points are computed from others, without knowing how. */
@Injectable()
export class DerivedPoints {
  private deriving = NONE;

  /** Called once, by whoever computes them. */
  use(deriving: Deriving): void {
    this.deriving = deriving;
  }

  dependents(pointId: number): readonly number[] {
    return this.deriving.dependents(pointId);
  }
  isDerived(pointId: number): boolean {
    return this.deriving.isDerived(pointId);
  }
  order(pointIds: readonly number[]): number[] {
    return this.deriving.order(pointIds);
  }
  intervalAt(pointId: number, t: number): number {
    return this.deriving.intervalAt(pointId, t);
  }
  changeAfter(pointId: number, t: number): number {
    return this.deriving.changeAfter(pointId, t);
  }
  compute(pointId: number, from: number, to: number): Promise<Sample[]> {
    return this.deriving.compute(pointId, from, to);
  }
}
