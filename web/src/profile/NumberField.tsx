import InputAdornment from '@mui/material/InputAdornment';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { typedNumber } from '../shared/typedNumber.js';
import { typed, type HowTyped } from './typed.js';

export const TIMES: HowTyped = { label: 'Multiplied by', unit: '×', scale: 1 };

/** A number of a question. What is typed counts when the field is left, or with Enter. */
export function NumberField({
  how,
  value,
  fault,
  belowZero = false,
  onChange,
}: {
  how: HowTyped;
  value: number;
  /** What the server finds wrong with the value. */
  fault: string | undefined;
  belowZero?: boolean;
  onChange: (value: number) => void;
}) {
  const [text, setText] = useState(typed(value, how));
  const number = typedNumber(text);
  const wrong =
    number === null || Number.isNaN(number)
      ? 'Type a number.'
      : number < 0 && !belowZero
        ? 'Not below zero.'
        : undefined;
  const settle = () => {
    if (number === null || wrong) return;
    // 0.9 × 1 comes out as typed, not as 0.9000000000000001.
    const settled = Number((number * how.scale).toPrecision(9));
    if (settled !== value) onChange(settled);
  };
  const said = wrong ?? (text === typed(value, how) ? fault : undefined);
  return (
    <TextField
      variant="standard"
      label={how.label}
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={settle}
      onKeyDown={(e) => {
        if (e.key === 'Enter') settle();
        if (e.key === 'Escape') setText(typed(value, how));
      }}
      error={said !== undefined}
      helperText={said}
      slotProps={{
        htmlInput: { inputMode: 'decimal', className: 'measured' },
        input: { endAdornment: <InputAdornment position="end">{how.unit}</InputAdornment> },
      }}
    />
  );
}
