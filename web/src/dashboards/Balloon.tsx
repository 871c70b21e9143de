import styles from './Balloon.module.css';

/** The number of an element in a ring, as items are numbered on a drawing: the same on the desk, the phone and below the fold. */
export const Balloon = ({ n, on, className = '' }: { n: number; on: boolean; className?: string }) => (
  <span className={`${styles.balloon} ${className}`} data-on={on} aria-hidden>
    {n}
  </span>
);
