import {
  BESIDES,
  fixedText,
  fromSiteClock,
  NAMED_PERIODS,
  neighbourText,
  periodSpan,
  siteClock,
  textOfSpan,
  type Beside,
} from '@loka/core/time';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { useEffect, useRef, useState } from 'react';
import { useNow } from '../api/clock.js';
import { useNotices } from '../shared/notices.js';
import { PERIOD_WORDS, usePeriod } from '../shared/period.js';
import { isTyping } from './isTyping.js';
import styles from './PeriodControl.module.css';

const BESIDE_WORDS: Record<Beside, string> = {
  before: 'the one before',
  weekday: 'the same weekdays before',
  year: 'the same days last year',
};

/** The one period of every screen: one back, one forward, back out, and a sheet with all of them. */
export function PeriodControl() {
  const period = usePeriod();
  const { name, words, zone, choose, beside, out } = period;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const now = useNow(60_000);
  const next = neighbourText(zone, name, now, 1);
  const hasNext = periodSpan(zone, next, now).start <= now;
  const back = () => choose(neighbourText(zone, name, now, -1));
  const forward = hasNext ? () => choose(next) : null;
  const keys = useRef<Record<string, (() => void) | null>>({});
  useEffect(() => {
    keys.current = { '[': back, ']': forward, Escape: out };
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target))
        return;
      // A dialog or a list that is open has the first say about its keys.
      if (document.querySelector('[role="dialog"], [role="presentation"].MuiModal-root')) return;
      keys.current[event.key]?.();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  return (
    <div className={styles.control} role="group" aria-label="Period">
      {out && (
        <button
          type="button"
          className={styles.step}
          onClick={out}
          title="Back out (Esc)"
          aria-label="Back out"
        >
          ⤺
        </button>
      )}
      <button
        type="button"
        className={styles.step}
        onClick={back}
        title="One back ( [ )"
        aria-label="One period back"
      >
        ‹
      </button>
      <button
        type="button"
        className={styles.chosen}
        onClick={(e) => setAnchor(e.currentTarget)}
        aria-haspopup="dialog"
        aria-label={`Period: ${words}${beside ? `, beside ${beside.words}` : ''}`}
      >
        <span>{words}</span>
        {beside && <span className={styles.beside}> beside {beside.words}</span>}
        <span aria-hidden> ▾</span>
      </button>
      <button
        type="button"
        className={styles.step}
        onClick={() => forward?.()}
        disabled={!forward}
        title="One forward ( ] )"
        aria-label="One period forward"
      >
        ›
      </button>
      <span className={styles.clock}>{siteClock(zone, now, 'HH:mm')}</span>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        transitionDuration={0}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Period' } }}
      >
        {anchor && <Sheet {...period} now={now} close={() => setAnchor(null)} />}
      </Popover>
    </div>
  );
}

/** What can be chosen: by name, by date, between two instants; what it is set beside; and a link to what is shown. */
function Sheet({
  name,
  span,
  zone,
  beside,
  choose,
  setBeside,
  now,
  close,
}: ReturnType<typeof usePeriod> & { now: number; close: () => void }) {
  const { say } = useNotices();
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
      ? 'Give both instants with date and time.'
      : end <= start
        ? 'It ends before it starts.'
        : null;
  const copy = async () => {
    const link = new URL(window.location.href);
    link.searchParams.set('period', fixedText(zone, name, now));
    await navigator.clipboard.writeText(link.toString());
    say('The link to what is shown is copied.');
    close();
  };
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
        <label className={styles.field}>
          One day
          <input
            type="date"
            max={siteClock(zone, now, 'yyyy-MM-dd')}
            value={siteClock(zone, span.start, 'yyyy-MM-dd')}
            onChange={(e) => e.target.value && choose(e.target.value)}
          />
        </label>
        <form
          className={styles.two}
          onSubmit={(e) => {
            e.preventDefault();
            if (problem === null) pick(textOfSpan(zone, { start: start as number, end: end as number }));
          }}
        >
          <label className={styles.field}>
            From
            <input type="datetime-local" value={from} onChange={(e) => setFrom(e.target.value)} />
          </label>
          <label className={styles.field}>
            To
            <input type="datetime-local" value={to} onChange={(e) => setTo(e.target.value)} />
          </label>
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
          {typeof navigator.clipboard !== 'undefined' && (
            <Button onClick={() => void copy()}>Copy a link to this</Button>
          )}
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
