import styles from './ConductorMarks.module.css';

/** The conductors of a circuit by colour and letter, after the scheme of the site. */
export function ConductorMarks({ phases, letters = true }: { phases: string; letters?: boolean }) {
  const lines = phases.split(' ').filter(Boolean);
  return (
    <span className={styles.marks}>
      {lines.map((line) => (
        <span
          key={line}
          className={styles.mark}
          style={{ background: `var(--${line.toLowerCase()})` }}
          aria-hidden
        />
      ))}
      {letters && lines.length === 1 ? (
        <span className={styles.letters}>{phases}</span>
      ) : (
        <span className="spoken">{phases}</span>
      )}
    </span>
  );
}
