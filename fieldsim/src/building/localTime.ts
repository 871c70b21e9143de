import { siteClock, siteDay, type TimeSpan } from '@loka/core/time';

/** What the building knows of the clock: hours since local midnight, and the day of the week (1 = Monday). */
export interface LocalTime {
  hour: number;
  weekday: number;
}

/** The local time at t; keeps the current day, because asking the zone data at every step would be slow. */
export class LocalClock {
  private day: TimeSpan = { start: 0, end: 0 };
  private weekday = 0;

  constructor(private readonly zone: string) {}

  at(t: number): LocalTime {
    if (t < this.day.start || t >= this.day.end) {
      this.day = siteDay(this.zone, t);
      this.weekday = Number(siteClock(this.zone, this.day.start, 'c'));
    }
    return { hour: (t - this.day.start) / 3_600_000, weekday: this.weekday };
  }
}
