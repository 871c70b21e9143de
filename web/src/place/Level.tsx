import type { Scale } from '../shared/usualScale.js';
import styles from './Level.module.css';

/** A value on its scale: the band filled, outside it open, the nominal value a triangle. */
export function Level({ value, scale, label }: { value: number | null; scale: Scale; label: string }) {
  const at = (v: number) => 100 * Math.min(1, Math.max(0, (v - scale.low) / (scale.high - scale.low)));
  const outside = value !== null && (value < scale.from || value > scale.to);
  return (
    <span
      className={styles.level}
      role="img"
      aria-label={
        value === null ? `${label}: not known` : `${label}: ${outside ? 'outside' : 'inside'} its band`
      }
    >
      <span
        className={styles.band}
        style={{ left: `${at(scale.from)}%`, width: `${at(scale.to) - at(scale.from)}%` }}
      />
      <span className={styles.nominal} style={{ left: `${at(scale.nominal)}%` }} />
      {value !== null && (
        <span
          className={styles.hand}
          data-outside={outside ? scale.outside : undefined}
          style={{ left: `${at(value)}%` }}
        />
      )}
    </span>
  );
}
