import type { CalibrationInput, ChangedMonth } from '@loka/contract/calibration';
import { siteClock } from '@loka/core/time';
import { useEffect, useState } from 'react';
import { api, inWords } from '../api/client.js';
import { Measured } from '../shared/Measured.js';
import { usePeriod } from '../shared/period.js';
import styles from './BenchPage.module.css';

/** Months that are shown; the others stand in the tip. */
const SHOWN = 2;

/** What a correction would make of the energy of the past months, before it is applied. @param input null while there is none */
export function PastChange({ input }: { input: CalibrationInput | null }) {
  const { zone } = usePeriod();
  const [months, setMonths] = useState<ChangedMonth[] | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const asked = input === null ? null : JSON.stringify(input);
  useEffect(() => {
    setMonths(null);
    setFault(null);
    if (asked === null) return;
    let stale = false;
    // While somebody still types an instant, nothing is asked.
    const timer = setTimeout(() => {
      api<ChangedMonth[]>('/calibrations/preview', 'POST', JSON.parse(asked) as CalibrationInput).then(
        (found) => !stale && setMonths(found),
        (error: unknown) => !stale && setFault(inWords(error)),
      );
    }, 300);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [asked]);
  if (asked === null) return <span>–</span>;
  if (fault !== null) return <span className="danger">{fault}</span>;
  if (months === null) return <span className="muted">is being calculated …</span>;
  const changed = months.filter((m) => m.before !== null && m.after !== null && m.before !== m.after);
  if (changed.length === 0) return <span>no energy of this circuit</span>;
  const newest = changed.slice(-SHOWN).reverse();
  const line = (m: ChangedMonth) => (
    <span key={m.from} className={styles.month}>
      {siteClock(zone, m.from, 'LLLL')} <Measured value={m.before} unit="Wh" /> →{' '}
      <Measured value={m.after} unit="Wh" />
    </span>
  );
  const more = changed.length - newest.length;
  return (
    <>
      {newest.map(line)}
      {more > 0 && (
        <span className="muted">
          and {more} more {more === 1 ? 'month' : 'months'}
        </span>
      )}
    </>
  );
}
