import {
  BESIDES,
  besideOf,
  periodOf,
  siteClock,
  textOfSpan,
  type Beside,
  type BesidePeriod,
  type NamedPeriod,
  type Period,
  type TimeSpan,
} from '@loka/core/time';
import { useMemo } from 'react';
import { useLocation, useSearchParams } from 'react-router';
import { useNow } from '../api/clock.js';
import { useSite } from '../api/useApi.js';

export const PERIOD_WORDS: Record<NamedPeriod, string> = {
  hour: 'Last hour',
  '24-hours': 'Last 24 hours',
  today: 'Today',
  yesterday: 'Yesterday',
  week: 'This week',
  month: 'This month',
  year: 'This year',
  '7-days': 'Last 7 days',
  '30-days': 'Last 30 days',
};

const DAY = 86_400_000;

/** A stretch in words of the site's clock; the year where it is not this one. */
export function spanInWords(
  zone: string,
  { span, unit }: Pick<Period, 'span' | 'unit'>,
  now: number,
): string {
  const { start, end } = span;
  const at = (t: number, format: string) => siteClock(zone, t, format);
  const year = at(start, 'yyyy') === at(now, 'yyyy') ? '' : ' yyyy';
  switch (unit) {
    case 'day':
      return at(start, `ccc d LLL${year}`);
    case 'week':
      return `Week ${at(start, 'W')}${year && ` of ${at(start, 'kkkk')}`}`;
    case 'month':
      return at(start, 'LLLL yyyy');
    case 'year':
      return at(start, 'yyyy');
    case null: {
      const days = at(start, 'HH:mm') === '00:00' && at(end, 'HH:mm') === '00:00' && end - start >= DAY;
      if (days) return `${at(start, `d LLL${year}`)} – ${at(end - 1, `d LLL${year}`)}`;
      const clock = end - start < 600_000 ? 'HH:mm:ss' : 'HH:mm';
      const sameDay = at(start, 'yyyy-MM-dd') === at(end, 'yyyy-MM-dd');
      return `${at(start, `d LLL${year} ${clock}`)} – ${at(end, sameDay ? clock : `d LLL${year} ${clock}`)}`;
    }
  }
}

/** What a chosen period is set beside. */
export interface BesideChosen extends BesidePeriod {
  how: Beside;
  words: string;
}

export interface PeriodChosen {
  /** As it stands in the URL. */
  name: string;
  words: string;
  span: TimeSpan;
  unit: Period['unit'];
  zone: string;
  beside: BesideChosen | null;
  choose: (name: string) => void;
  setBeside: (how: Beside | null) => void;
  /** Goes into a stretch of it; {@link out} comes back. */
  into: (span: TimeSpan) => void;
  /** The same length somewhat earlier or later, ms; what is gone into stays gone into. */
  pan: (ms: number) => void;
  /** Back to where one went in from; null when one has not. */
  out: (() => void) | null;
}

const isBeside = (text: string | null): text is Beside =>
  (BESIDES as readonly (string | null)[]).includes(text);

/** A stretch that is gone into is not shorter, ms. */
const SHORTEST = 2000;

/** The period chosen in the head, the same on every screen; it lives in the URL, and so does what it is set beside. */
export function usePeriod(): PeriodChosen {
  const [search, setSearch] = useSearchParams();
  const location = useLocation();
  const zone = useSite().data?.site?.timeZone ?? 'UTC';
  const now = useNow(60_000) + 60_000;
  const asked = search.get('period') ?? 'today';
  const how = search.get('beside');
  const { name, period } = useMemo(() => valid(zone, asked, now), [zone, asked, now]);
  const beside = useMemo(
    () => (isBeside(how) ? besideInWords(zone, name, now, how) : null),
    [zone, name, now, how],
  );
  const ways = (location.state as { out?: string[] } | null)?.out ?? [];
  const go = (next: string, out: string[]) =>
    setSearch(
      (before) => {
        before.set('period', next);
        return before;
      },
      { state: { out } },
    );
  const back = ways.at(-1);
  return {
    name,
    words: name in PERIOD_WORDS ? PERIOD_WORDS[name as NamedPeriod] : spanInWords(zone, period, now),
    span: period.span,
    unit: period.unit,
    zone,
    beside,
    choose: (next) => go(next, []),
    setBeside: (next) =>
      setSearch(
        (before) => {
          if (next) before.set('beside', next);
          else before.delete('beside');
          return before;
        },
        { state: location.state as unknown },
      ),
    into: ({ start, end }) => {
      if (end - start >= SHORTEST)
        go(textOfSpan(zone, { start: Math.round(start), end: Math.round(end) }), [...ways, name]);
    },
    pan: (ms) => {
      const { start, end } = period.span;
      const by = Math.round(Math.min(ms, Math.max(0, now - end)));
      go(
        textOfSpan(zone, { start: Math.round(start) + by, end: Math.round(end) + by }),
        ways.length > 0 ? ways : [name],
      );
    },
    out: back === undefined ? null : () => go(back, ways.slice(0, -1)),
  };
}

/** What the URL asks for, or today where that is no period. */
function valid(zone: string, asked: string, now: number): { name: string; period: Period } {
  try {
    return { name: asked, period: periodOf(zone, asked, now) };
  } catch {
    return { name: 'today', period: periodOf(zone, 'today', now) };
  }
}

/** Which units of the calendar are such units again when they are set beside another. */
const KEEPS: Record<Beside, readonly Period['unit'][]> = {
  before: ['day', 'week', 'month', 'year'],
  weekday: ['day', 'week'],
  year: ['day', 'month', 'year'],
};

function besideInWords(zone: string, name: string, now: number, how: Beside): BesideChosen {
  const beside = besideOf(zone, name, now, how);
  const { unit } = periodOf(zone, name, now);
  const words = spanInWords(zone, { span: beside.span, unit: KEEPS[how].includes(unit) ? unit : null }, now);
  return { ...beside, how, words };
}
