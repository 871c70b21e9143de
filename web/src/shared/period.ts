import { NAMED_PERIODS, periodSpan, type NamedPeriod, type TimeSpan } from '@loka/core/time';
import { useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { useSite } from '../api/useApi.js';
import { useNow } from '../api/clock.js';

export const PERIOD_WORDS: Record<NamedPeriod, string> = {
  hour: 'Last hour',
  today: 'Today',
  yesterday: 'Yesterday',
  '7-days': '7 days',
  '30-days': '30 days',
};

const isNamed = (text: string): text is NamedPeriod => (NAMED_PERIODS as readonly string[]).includes(text);

/** The period chosen in the head, the same on every screen; it lives in the URL. */
export function usePeriod(): {
  name: string;
  words: string;
  span: TimeSpan;
  zone: string;
  choose: (name: string) => void;
} {
  const [search, setSearch] = useSearchParams();
  const zone = useSite().data?.site?.timeZone ?? 'UTC';
  const now = useNow(60_000);
  const asked = search.get('period') ?? 'today';
  const name = isNamed(asked) || /^\d{4}-\d{2}-\d{2}$/.test(asked) ? asked : 'today';
  const span = useMemo(() => periodSpan(zone, name, now + 60_000), [zone, name, now]);
  const choose = (next: string) =>
    setSearch((before) => {
      before.set('period', next);
      return before;
    });
  return { name, words: isNamed(name) ? PERIOD_WORDS[name] : name, span, zone, choose };
}
