import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { Controller, type Control, type FieldValues, type Path } from 'react-hook-form';
import { messageOf } from '../shared/useProblemForm.js';
import styles from './SettingsPage.module.css';

const WEEK = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

const without = (days: readonly number[], day: number) => days.filter((d) => d !== day);

interface Field<T extends FieldValues> {
  control: Control<T>;
  name: Path<T>;
}

/** The days of the week on which the site is closed. */
export function ClosedDays<T extends FieldValues>({ control, name }: Field<T>) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field: { value, onChange, onBlur }, fieldState }) => {
        const closed = value as number[];
        return (
          <fieldset className={styles.days} onBlur={onBlur}>
            <legend>Closed on</legend>
            {WEEK.map((name, i) => (
              <button
                key={name}
                type="button"
                aria-pressed={closed.includes(i + 1)}
                onClick={() =>
                  onChange(closed.includes(i + 1) ? without(closed, i + 1) : [...closed, i + 1].sort())
                }
              >
                {name}
              </button>
            ))}
            {fieldState.error && (
              <p className="danger" role="alert">
                {messageOf(fieldState.error)}
              </p>
            )}
          </fieldset>
        );
      }}
    />
  );
}

/** Further days on which it is closed, a line each. */
export function Holidays<T extends FieldValues>({ control, name }: Field<T>) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState }) => <Lines {...field} fault={messageOf(fieldState.error)} />}
    />
  );
}

function Lines({
  value,
  onChange,
  onBlur,
  fault,
}: {
  value: string[];
  onChange: (lines: string[]) => void;
  onBlur: () => void;
  fault: string | undefined;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const lines = (text: string) => text.split(/[\s,;]+/).filter((line) => line !== '');
  // What was typed stands as it is while it says the same; what somebody else has saved replaces it.
  const said = typed !== null && lines(typed).join() === value.join() ? typed : value.join('\n');
  return (
    <TextField
      label="Holidays, one day per line"
      placeholder="2026-12-25"
      multiline
      minRows={2}
      maxRows={8}
      slotProps={{ inputLabel: { shrink: true } }}
      value={said}
      onChange={({ target }) => {
        setTyped(target.value);
        onChange(lines(target.value));
      }}
      onBlur={onBlur}
      error={fault !== undefined}
      helperText={fault ?? ' '}
    />
  );
}
