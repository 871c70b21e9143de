import type { Health } from '@loka/contract/acquisition';
import { printAge } from '@loka/core/formats';
import { useNow } from '../api/clock.js';
import styles from './HealthMark.module.css';

const WORDS: Record<Health['state'], string> = {
  answering: 'answers',
  partly: 'answers in part',
  failing: 'does not answer',
  idle: 'not asked yet',
  off: 'switched off',
};

/** How a link or device fares, by shape as well as colour: disc, half a disc, cross, ring, bar. */
export function HealthMark({ state }: { state: Health['state'] }) {
  return (
    <span
      className={styles.mark}
      data-state={state}
      role="img"
      aria-label={WORDS[state]}
      title={WORDS[state]}
    />
  );
}

export function HealthWords({ health }: { health: Health }) {
  const now = useNow(5000);
  if (health.state === 'answering' && health.responseMs !== null)
    return <span className="measured muted">{Math.max(1, Math.round(health.responseMs))} ms</span>;
  if (health.state === 'failing') return <span className="danger">for {printAge(now - health.since)}</span>;
  if (health.state === 'partly') return <span className="warn">in part</span>;
  return null;
}
