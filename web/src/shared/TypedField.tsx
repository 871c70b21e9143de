import { printDuration, printNumber, typedDuration, typedQuantity } from '@loka/core/formats';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { Controller, type Control, type FieldValues, type Path } from 'react-hook-form';
import { messageOf } from './useProblemForm.js';

interface Field<T extends FieldValues> {
  control: Control<T>;
  name: Path<T>;
  label: string;
}

/** A duration of a form, kept in ms and typed in seconds or with its unit. */
export const DurationField = <T extends FieldValues>({ control, name, label }: Field<T>) => (
  <Controller
    control={control}
    name={name}
    render={({ field, fieldState }) => (
      <Typed
        {...field}
        label={label}
        print={printDuration}
        parse={typedDuration}
        fault={messageOf(fieldState.error)}
        hint="In seconds, or as 2 min"
        rightly="Type seconds, or with a unit: 2.5 s, 2 min, 1 h."
      />
    )}
  />
);

/** A measured value of a form, kept in its base unit and typed with whichever prefix: "1.5 kW". */
export const QuantityField = <T extends FieldValues>({
  control,
  name,
  label,
  unit,
}: Field<T> & { unit: string }) => (
  <Controller
    control={control}
    name={name}
    render={({ field, fieldState }) => (
      <Typed
        {...field}
        label={label}
        print={(value) => `${Number(value.toPrecision(9))}${unit ? ` ${unit}` : ''}`}
        parse={(text) => typedQuantity(text, unit)}
        fault={messageOf(fieldState.error)}
        hint={unit === 'W' ? 'In W, or as 1.5 kW' : ' '}
        rightly={unit ? `Type a number in ${unit}, for example 5 ${unit}.` : 'Type a number.'}
        says={(value) => {
          const { digits, unit: shown } = printNumber(value, unit);
          return Math.abs(value) >= 1000 ? `${digits} ${shown}` : null;
        }}
      />
    )}
  />
);

function Typed({
  value,
  onChange,
  onBlur,
  name,
  label,
  print,
  parse,
  fault,
  hint,
  rightly,
  says,
}: {
  value: unknown;
  onChange: (value: number | undefined) => void;
  onBlur: () => void;
  name: string;
  label: string;
  print: (value: number) => string;
  parse: (text: string) => number | null;
  fault: string | undefined;
  hint: string;
  /** What to say of what is not understood. */
  rightly: string;
  /** What was understood, where it is worth saying. */
  says?: (value: number) => string | null;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const number = typeof value === 'number' && Number.isFinite(value) ? value : null;
  // What was typed stands while it says the same; what somebody else has saved replaces it.
  const understood = typed === null ? null : parse(typed);
  const stands = typed !== null && (Number.isNaN(understood) || understood === number);
  const wrong = stands && Number.isNaN(understood);
  return (
    <TextField
      name={name}
      label={label}
      inputMode="text"
      value={stands ? typed : number === null ? '' : print(number)}
      onChange={({ target }) => {
        setTyped(target.value);
        const next = parse(target.value);
        onChange(next ?? undefined);
      }}
      onBlur={() => {
        if (!wrong) setTyped(null);
        onBlur();
      }}
      error={wrong || fault !== undefined}
      helperText={wrong ? rightly : (fault ?? (number !== null && says?.(number)) ?? hint)}
    />
  );
}
