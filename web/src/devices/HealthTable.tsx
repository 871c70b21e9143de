import type { Health } from '@loka/contract/acquisition';
import { printAge } from '@loka/core/formats';
import { siteClock } from '@loka/core/time';
import { useNow } from '../api/clock.js';
import { usePeriod } from '../shared/period.js';
import styles from './HealthTable.module.css';

const STATE: Record<Health['state'], string> = {
  answering: 'Answers',
  partly: 'Answers in part',
  failing: 'Fails',
  idle: 'Not heard yet',
  off: 'Switched off',
};

/** How a link or a device fares, in figures, with its faults by kind. */
export function HealthTable({ health }: { health: Health }) {
  const { zone } = usePeriod();
  const now = useNow(5000);
  const ms = (value: number | null) => (value === null ? '–' : `${Math.max(1, Math.round(value))} ms`);
  return (
    <div className={styles.health}>
      <dl>
        <div>
          <dt>{STATE[health.state]}</dt>
          <dd>{health.since > 0 ? `for ${printAge(now - health.since)}` : '–'}</dd>
        </div>
        <div>
          <dt>Median</dt>
          <dd className="measured">{ms(health.responseMs)}</dd>
        </div>
        <div>
          <dt>95 % below</dt>
          <dd className="measured">{ms(health.response95Ms)}</dd>
        </div>
        <div>
          <dt>Rate</dt>
          <dd className="measured">{health.perSecond.toFixed(1)} /s</dd>
        </div>
      </dl>
      {health.faults.length > 0 && (
        <ul aria-label="Faults since the link was started">
          {health.faults.map((fault) => (
            <li key={fault.kind}>
              <strong>
                {fault.count} × {fault.kind}
              </strong>{' '}
              <span className="muted">
                last at {siteClock(zone, fault.at, 'HH:mm:ss')}: {fault.last}
              </span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
