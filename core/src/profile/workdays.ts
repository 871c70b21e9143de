import { siteClock } from '../time/index.js';

/** What days can be, as the site is used; a holiday is one on whichever day of the week it falls. */
export const DAY_KINDS = ['working', 'closed', 'holiday'] as const;
export type DayKind = (typeof DAY_KINDS)[number];

/** When the site is closed. */
export interface Closing {
  /** Days of the week, 1 is Monday. */
  closedDays: readonly number[];
  /** Days as 2026-12-25. */
  holidays: readonly string[];
}

/** Where nobody has said anything else. */
export const WEEKENDS: Closing = { closedDays: [6, 7], holidays: [] };

/** What kind of day an instant lies in, by the clock of a zone. */
export function dayKindAt(zone: string, t: number, { closedDays, holidays }: Closing): DayKind {
  if (holidays.length > 0 && holidays.includes(siteClock(zone, t, 'yyyy-MM-dd'))) return 'holiday';
  return closedDays.includes(Number(siteClock(zone, t, 'c'))) ? 'closed' : 'working';
}
