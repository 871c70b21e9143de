/** A reading of one of the points whose sum is a power. */
export interface HeldReading {
  pointId: number;
  t: number;
  /** W; null where it could not be read. */
  v: number | null;
  /** How long it speaks when nothing comes after it, ms. */
  hold: number;
}

/**
 * The power of a place out of the readings of its points, in the order of their instants: each holds until the next one of its
 * point, and as long as it speaks at most; the power is known where that of all points is.
 */
export class HeldReadings {
  readonly watts: number[] = [];
  /** How long each of them held, ms. */
  readonly held: number[] = [];
  /** Readings that were taken in. */
  count = 0;
  highest: { watts: number; at: number } | null = null;
  private readonly newest = new Map<number, { v: number; until: number }>();
  private at: number;

  /** @param points whose sum it is; @param from, to UTC ms: what held before counts from here on */
  constructor(
    private readonly points: readonly number[],
    from: number,
    private readonly to: number,
  ) {
    this.at = from;
  }

  add({ pointId, t, v, hold }: HeldReading): void {
    this.upTo(Math.min(t, this.to));
    this.count++;
    if (v === null) this.newest.delete(pointId);
    else this.newest.set(pointId, { v, until: t + hold });
  }

  /** What holds until the end of the period. */
  end(): void {
    this.upTo(this.to);
  }

  private upTo(t: number): void {
    if (t <= this.at) return;
    let [sum, until] = [0, t];
    for (const id of this.points) {
      const one = this.newest.get(id);
      sum += one?.v ?? NaN;
      until = Math.min(until, one?.until ?? -Infinity);
    }
    if (until > this.at && !Number.isNaN(sum)) {
      this.watts.push(sum);
      this.held.push(until - this.at);
      if (this.highest === null || sum > this.highest.watts) this.highest = { watts: sum, at: this.at };
    }
    this.at = t;
  }
}
