import type { CalendarStep, TimeSpan } from '@loka/core/time';

const DAY = 86_400_000;

/** Parts that a period is told in: few enough to be seen, fine enough to show a day. */
export const stepOf = ({ start, end }: TimeSpan): CalendarStep =>
  end - start > 100 * DAY
    ? 'month'
    : end - start > 3 * DAY
      ? 'day'
      : end - start > 6 * 3_600_000
        ? 'hour'
        : 'quarter';
