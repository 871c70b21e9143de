import { Injectable, Logger, OnModuleDestroy } from '@nestjs/common';

const LOOK_EVERY = 1000;
/** What a clock is set by when it is only trimmed, ms; a step beyond that is a jump. */
const TRIMMED = 1500;

/** A step of the machine's clock. */
export interface ClockJump {
  /** When it was noticed, by the clock as it is now, UTC ms. */
  at: number;
  /** By how much it was set, ms; negative for back. */
  by: number;
}

/**
 * Notices when the clock of the machine is set: nothing that Loka does hangs on it but the time that readings are given, so
 * it is said, and what is read in time that there has been before is marked.
 */
@Injectable()
export class ClockWatch implements OnModuleDestroy {
  private readonly log = new Logger('clock');
  private ahead = Date.now() - performance.now();
  private highest = Date.now();
  /** The time that there has been before ends here. */
  private repeatedUntil = -Infinity;
  private last: ClockJump | null = null;
  private readonly timer = setInterval(() => this.look(), LOOK_EVERY);

  onModuleDestroy(): void {
    clearInterval(this.timer);
  }

  /** The last step of the clock since the start; null without one. */
  get lastJump(): ClockJump | null {
    return this.last;
  }

  /** Whether there has been a time like this before, because the clock was set back. @param now UTC ms */
  isRepeated(now: number): boolean {
    if (now < this.highest - TRIMMED) this.look();
    this.highest = Math.max(this.highest, now);
    return now < this.repeatedUntil;
  }

  private look(): void {
    const now = Date.now();
    const ahead = now - performance.now();
    const by = Math.round(ahead - this.ahead);
    this.ahead = ahead;
    if (Math.abs(by) > TRIMMED) {
      this.last = { at: now, by };
      if (by < 0) this.repeatedUntil = Math.max(this.repeatedUntil, this.highest);
      this.log.warn(
        `the clock of this machine was set ${by < 0 ? 'back' : 'forward'} by ${Math.round(Math.abs(by) / 1000)} s${by < 0 ? '; what is read until that time has come again is marked' : ' (or it slept)'}`,
      );
    }
    this.highest = Math.max(this.highest, now);
  }
}
