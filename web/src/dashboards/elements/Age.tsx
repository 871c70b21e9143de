import { printAge } from '@loka/core/formats';
import styles from './elements.module.css';
import type { LiveNumber } from './useValue.js';

/** How old a number is, as a line with ticks at one and two intervals. */
export function Age({ live: { age, interval, old } }: { live: LiveNumber }) {
  if (age === null) return <span className={styles.age}>nothing read yet</span>;
  return (
    <span className={styles.age} data-old={old}>
      <span>{age < 1000 ? 'now' : `${printAge(age)} ago`}</span>
      <svg width="40" height="9" viewBox="0 0 40 9" aria-hidden>
        <path d="M0 7.5H40M20 5V8M39.5 3V8" className={styles.ageTicks} />
        <path d={`M0 7.5H${Math.min(40, (20 * age) / interval).toFixed(1)}`} className={styles.ageLine} />
      </svg>
    </span>
  );
}
