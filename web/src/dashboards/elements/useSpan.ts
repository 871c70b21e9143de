import { NAMED_PERIODS, periodSpan, type NamedPeriod, type TimeSpan } from '@loka/core/time';
import { useMemo } from 'react';
import { useNow } from '../../api/clock.js';
import { PERIOD_WORDS, usePeriod } from '../../shared/period.js';
import { useFacts } from '../facts.js';

/** The spans that an element can have, in words; none is the period at the top. */
export const SPAN_CHOICES: [NamedPeriod | null, string][] = [
  [null, 'the period at the top'],
  ...NAMED_PERIODS.map((name): [NamedPeriod, string] => [name, PERIOD_WORDS[name].toLowerCase()]),
];

/** The span of an element: its own, or the one chosen in the head. */
export function useSpan(span: NamedPeriod | null): { span: TimeSpan; words: string } {
  const { zone } = useFacts();
  const head = usePeriod();
  const now = useNow(60_000);
  return useMemo(
    () =>
      span === null
        ? { span: head.span, words: head.words }
        : { span: periodSpan(zone, span, now + 60_000), words: PERIOD_WORDS[span].toLowerCase() },
    [span, head.span, head.words, zone, now],
  );
}
