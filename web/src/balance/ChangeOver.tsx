import styles from './ChangeOver.module.css';

/** Now or Energy, drawn as the change-over contact that it is. */
export function ChangeOver({
  value,
  onChange,
}: {
  value: 'now' | 'energy';
  onChange: (value: 'now' | 'energy') => void;
}) {
  const energy = value === 'energy';
  return (
    <span className={styles.contact} role="group" aria-label="What is shown">
      <button type="button" aria-pressed={!energy} onClick={() => onChange('now')}>
        Now
      </button>
      <svg viewBox="0 0 44 18" width="44" height="18" aria-hidden>
        <path d="M0 4h9M35 4h9" />
        <circle cx="11" cy="4" r="2" />
        <circle cx="33" cy="4" r="2" />
        <path d={energy ? 'M22 15 31.5 5.2' : 'M22 15 12.5 5.2'} strokeWidth="2" />
        <circle cx="22" cy="15.5" r="2" fill="currentColor" />
      </svg>
      <button type="button" aria-pressed={energy} onClick={() => onChange('energy')}>
        Energy
      </button>
    </span>
  );
}
