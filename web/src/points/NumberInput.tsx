import styles from './pointGrid.module.css';

/** A number while it is typed: what is not one yet stays in the field and is marked, and the last number holds. */
export function NumberInput({
  value,
  onChange,
  label,
}: {
  value: number;
  onChange: (value: number) => void;
  label: string;
}) {
  return (
    <input
      key={value}
      defaultValue={value}
      className={styles.number}
      aria-label={label}
      inputMode="decimal"
      onBlur={(e) => {
        const typed = Number(e.target.value.replace(',', '.'));
        const good = e.target.value.trim() !== '' && Number.isFinite(typed);
        e.target.setAttribute('aria-invalid', String(!good));
        e.target.title = good ? '' : `“${e.target.value}” is not a number; ${value} still holds.`;
        if (good && typed !== value) onChange(typed);
      }}
    />
  );
}
