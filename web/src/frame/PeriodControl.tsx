import { neighbourText, periodSpan, siteClock } from '@loka/core/time';
import Popover from '@mui/material/Popover';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { useNow } from '../api/clock.js';
import { usePeriod } from '../shared/period.js';
import { LoadingState } from '../shared/states.js';
import { isTyping } from './isTyping.js';
import styles from './PeriodControl.module.css';

// Its calendar is large, and most periods are chosen without it.
const PeriodSheet = lazy(() => import('./PeriodSheet.js'));

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
        {anchor && (
          <div className={styles.room}>
            <Suspense fallback={<LoadingState />}>
              <PeriodSheet {...period} now={now} close={() => setAnchor(null)} />
            </Suspense>
          </div>
        )}
      </Popover>
    </div>
  );
}
