import type { InstallationNode } from '@loka/contract/installation';
import Autocomplete from '@mui/material/Autocomplete';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { nodeTitle } from '../../shared/nodes.js';
import { NumberField, TIMES } from '../NumberField.js';
import { NUMBERS, TYPED, type Question } from './question.js';
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
          how={TYPED[name]}
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
              how={TIMES}
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
