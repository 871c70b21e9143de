/** Readings this close before the last one came in the same burst; farther back, the clock has been set. */
const BURST = 5000;

/**
 * Gives readings that are stamped on arrival a millisecond each, and remembers the newest of those that bring their own
 * time. In memory: what comes after a restart is told apart where it is stored.
 */
export class Instants {
  private readonly last = new Map<number, number>();
  private readonly newest = new Map<number, number>();

  /** The instant of a reading that arrived at t: t, or the first millisecond after the one before it. */
  free(pointId: number, t: number): number {
    const before = this.last.get(pointId);
    const own = before !== undefined && t <= before && before - t < BURST ? before + 1 : t;
    this.last.set(pointId, own);
    return own;
  }

  /** Notes the own time of a reading. @returns the newest own time of its point, this one included */
  noteOwn(pointId: number, t: number): number {
    const newest = Math.max(t, this.newest.get(pointId) ?? -Infinity);
    this.newest.set(pointId, newest);
    return newest;
  }
}
