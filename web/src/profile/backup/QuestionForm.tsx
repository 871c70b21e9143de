import type { InstallationNode } from '@loka/contract/installation';
import Autocomplete from '@mui/material/Autocomplete';
import InputAdornment from '@mui/material/InputAdornment';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { nodeTitle } from '../../shared/nodes.js';
import { typedNumber } from '../../shared/typedNumber.js';
import { NUMBERS, TYPED, typed, type NumberOf, type Question } from './question.js';
import styles from './Backup.module.css';

/** The source and the loads that are asked about. What is typed counts when the field is left, or with Enter. */
export function QuestionForm({
  question,
  others,
  givers,
  faults,
  onChange,
}: {
  question: Question;
  /** Places that could be carried as well. */
  others: InstallationNode[];
  givers: InstallationNode[];
  /** What the server finds wrong, by field. */
  faults: ReadonlyMap<string, string>;
  onChange: (question: Question) => void;
}) {
  const chosen = others.filter((n) => question.also.includes(n.id));
  return (
    <div className={styles.form}>
      {NUMBERS.map((name) => (
        <NumberField
          // What comes from elsewhere (the address, "take these") replaces what is typed.
          key={`${name} ${question[name]}`}
          name={name}
          value={question[name]}
          fault={faults.get(name)}
          onChange={(value) => onChange({ ...question, [name]: value })}
        />
      ))}
      <Autocomplete
        multiple
        size="small"
        className={styles.wide}
        options={others}
        value={chosen}
        getOptionLabel={nodeTitle}
        getOptionKey={(n) => n.id}
        isOptionEqualToValue={(a, b) => a.id === b.id}
        onChange={(_, nodes) => onChange({ ...question, also: nodes.map((n) => n.id) })}
        renderInput={(params) => (
          <TextField
            {...params}
            variant="standard"
            label="Carries as well"
            placeholder={chosen.length === 0 ? 'nothing else' : ''}
            error={faults.has('nodes')}
            helperText={faults.get('nodes')}
            slotProps={{ ...params.slotProps, inputLabel: { ...params.slotProps.inputLabel, shrink: true } }}
          />
        )}
      />
      {givers.length > 0 && (
        <>
          <TextField
            select
            variant="standard"
            label="Charged by"
            className={styles.sun}
            value={question.sun?.node ?? ''}
            error={faults.has('sun')}
            helperText={faults.get('sun')}
            onChange={(e) =>
              onChange({
                ...question,
                sun:
                  e.target.value === ''
                    ? null
                    : { node: Number(e.target.value), times: question.sun?.times ?? 1 },
              })
            }
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
          >
            <MenuItem value="">nothing</MenuItem>
            {givers.map((n) => (
              <MenuItem key={n.id} value={n.id}>
                {nodeTitle(n)}
              </MenuItem>
            ))}
          </TextField>
          {question.sun && (
            <NumberField
              key={`times ${question.sun.times}`}
              name="times"
              value={question.sun.times}
              fault={faults.get('times')}
              onChange={(times) => question.sun && onChange({ ...question, sun: { ...question.sun, times } })}
            />
          )}
        </>
      )}
    </div>
  );
}

const TIMES = { label: 'Times as much', unit: '×', scale: 1 };

function NumberField({
  name,
  value,
  fault,
  onChange,
}: {
  name: NumberOf | 'times';
  value: number;
  fault: string | undefined;
  onChange: (value: number) => void;
}) {
  const how = name === 'times' ? TIMES : TYPED[name];
  const [text, setText] = useState(typed(value, how));
  const number = typedNumber(text);
  const wrong =
    number === null || Number.isNaN(number) ? 'Type a number.' : number < 0 ? 'Not below zero.' : undefined;
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
