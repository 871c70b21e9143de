/** A look that is later than this, ms, comes after a time in which the process stood still: paused with its machine, or starved. */
const STOOD_STILL = 1000;
/** One that begins sooner after another than this, ms, is not a second pause: the process has too much to do. */
const RECOVERED = 2000;

/**
 * The beat of what is looked at again and again. While the process stands still nothing is read, so that time proves
 * nothing: neither that a device was silent, nor that a load stayed above its limit. One that is late again and again is
 * overloaded, and does not stand still: then time passes, since a protection must not wait for ever.
 */
export class Beat {
  private last = performance.now();
  private lastLate = -Infinity;

  /** @param everyMs how often it is looked */
  constructor(private readonly everyMs: number) {}

  /**
   * To be called at each look, and before whatever may come ahead of a look that is due.
   * @returns for how long the process stood still before it, ms; 0 when it did not
   */
  stoodStill(now = performance.now()): number {
    const late = now - this.last - this.everyMs;
    const since = this.last;
    this.last = now;
    if (late <= STOOD_STILL) return 0;
    const again = since - this.lastLate < RECOVERED;
    this.lastLate = now;
    return again ? 0 : late;
  }
}
