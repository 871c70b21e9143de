import {
  BESIDES,
  fixedText,
  fromSiteClock,
  NAMED_PERIODS,
  siteClock,
  textOfSpan,
  type Beside,
} from '@loka/core/time';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { DayField, InstantField } from '../shared/DateFields.js';
import { copyText } from '../shared/copyText.js';
import { useNotices } from '../shared/notices.js';
import { PERIOD_WORDS, type usePeriod } from '../shared/period.js';
import styles from './PeriodControl.module.css';

const BESIDE_WORDS: Record<Beside, string> = {
  before: 'the one before',
  weekday: 'the same weekdays before',
  year: 'the same days last year',
};

/** What can be chosen: by name, by date, between two instants; what it is set beside; and a link to what is shown. */
export default function PeriodSheet({
  name,
  span,
  zone,
  beside,
  choose,
  setBeside,
  now,
  close,
}: ReturnType<typeof usePeriod> & { now: number; close: () => void }) {
  const { attempt, say } = useNotices();
  const local = (t: number) => siteClock(zone, t, "yyyy-MM-dd'T'HH:mm");
  const [from, setFrom] = useState(local(span.start));
  const [to, setTo] = useState(local(span.end));
  const pick = (text: string) => {
    choose(text);
    close();
  };
  const [start, end] = [instant(zone, from), instant(zone, to)];
  const problem =
    start === null || end === null
      ? 'Enter both dates and times.'
      : end <= start
        ? 'It ends before it starts.'
        : null;
  const copy = () =>
    void attempt(async () => {
      const link = new URL(window.location.href);
      link.searchParams.set('period', fixedText(zone, name, now));
      await copyText(link.toString());
      say('The link to what is shown is copied.');
      close();
    });
  return (
    <div className={styles.sheet}>
      <div className={styles.names} role="group" aria-label="By name">
        {NAMED_PERIODS.map((period) => (
          <button
            key={period}
            type="button"
            className={styles.name}
            aria-pressed={period === name}
            onClick={() => pick(period)}
          >
            {PERIOD_WORDS[period]}
          </button>
        ))}
      </div>
      <div className={styles.rest}>
        <DayField
          label="One day"
          latest={siteClock(zone, now, 'yyyy-MM-dd')}
          value={siteClock(zone, span.start, 'yyyy-MM-dd')}
          onChange={(day) => day && choose(day)}
        />
        <form
          className={styles.two}
          onSubmit={(e) => {
            e.preventDefault();
            if (problem === null) pick(textOfSpan(zone, { start: start as number, end: end as number }));
          }}
        >
          <InstantField label="From" value={from} onChange={setFrom} />
          <InstantField label="To" value={to} onChange={setTo} />
          <Button type="submit" variant="outlined" disabled={problem !== null}>
            Show
          </Button>
          {problem && <p className={styles.problem}>{problem}</p>}
        </form>
        <div role="group" aria-label="Beside" className={styles.besides}>
          <span className={styles.heading}>Beside</span>
          <button
            type="button"
            className={styles.name}
            aria-pressed={beside === null}
            onClick={() => setBeside(null)}
          >
            nothing
          </button>
          {BESIDES.map((how) => (
            <button
              key={how}
              type="button"
              className={styles.name}
              aria-pressed={beside?.how === how}
              onClick={() => setBeside(how)}
            >
              {BESIDE_WORDS[how]}
            </button>
          ))}
        </div>
        <div className={styles.foot}>
          <span className="muted">By the clock of {zone}.</span>
          <Button onClick={copy}>Copy a link to this</Button>
        </div>
      </div>
    </div>
  );
}

/** UTC ms of what was typed; null while it is not an instant. */
function instant(zone: string, local: string): number | null {
  try {
    return fromSiteClock(zone, local);
  } catch {
    return null;
  }
}
