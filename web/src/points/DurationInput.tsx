import { printDuration, typedDuration } from '@loka/core/formats';
import styles from './pointGrid.module.css';

/** A duration in a cell of a grid, kept in ms and typed as seconds or with its unit; what is none does not take the place of the old one. */
export function DurationInput({
  value,
  onChange,
  label,
}: {
  value: number;
  onChange: (ms: number) => void;
  label: string;
}) {
  return (
    <input
      key={value}
      defaultValue={printDuration(value)}
      className={styles.number}
      aria-label={label}
      onBlur={(e) => {
        const typed = typedDuration(e.target.value) ?? NaN;
        const good = Number.isFinite(typed);
        e.target.setAttribute('aria-invalid', String(!good));
        e.target.title = good
          ? ''
          : `“${e.target.value}” is not a time such as 5 s; ${printDuration(value)} still holds.`;
        if (good && typed !== value) onChange(typed);
      }}
    />
  );
}
