import type { EnergyReport } from '@loka/contract/report';
import { printNumber } from '@loka/core/formats';
import { siteClock } from '@loka/core/time';
import styles from './Report.module.css';

const WIDTH = 960;
const HEIGHT = 150;
const DAY = 86_400_000;
/** A word below each of so many days at most. */
const WORDS = 16;

/** What was taken each day, closed days in a lighter ink; of days that are not known whole there is a mark. */
export function Days({ report: { days, site } }: { report: EnergyReport }) {
  const most = Math.max(...days.map((d) => d.taken ?? 0), 1);
  const each = WIDTH / days.length;
  const { digits, unit } = printNumber(most, 'Wh');
  const every = Math.ceil(days.length / WORDS);
  const months = days.length > 62;
  return (
    <div className={styles.days}>
      <span className={styles.most}>
        {digits} {unit}
      </span>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="none"
        role="img"
        aria-label={`What was taken on each of ${days.length} days, at most ${digits} ${unit}`}
      >
        {days.map((d, i) => {
          const height = d.taken === null ? HEIGHT : Math.max(0, (d.taken / most) * HEIGHT);
          return (
            <rect
              key={d.start}
              x={i * each + each * 0.12}
              width={each * 0.76}
              y={HEIGHT - height}
              height={height}
              data-kind={d.taken === null ? 'unknown' : d.kind}
              data-whole={d.end - d.start >= 0.9 * DAY}
            />
          );
        })}
        <line x1={0} x2={WIDTH} y1={HEIGHT} y2={HEIGHT} />
      </svg>
      <div className={styles.dates} aria-hidden>
        {days.map((d, i) =>
          i % every === 0 ? (
            <span key={d.start} style={{ left: `${(100 * (i + 0.5)) / days.length}%` }}>
              {siteClock(site.timeZone, d.start, months ? 'd LLL' : 'ccc d')}
            </span>
          ) : null,
        )}
      </div>
      <small>
        <i data-kind="working" /> working days <i data-kind="closed" /> closed days and holidays{' '}
        <i data-kind="unknown" /> not known
      </small>
    </div>
  );
}
