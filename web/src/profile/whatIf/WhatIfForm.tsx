import { LOAD_CHANGES, type LoadChangeKind } from '@loka/contract/whatIf';
import type { InstallationNode } from '@loka/contract/installation';
import { hoursOfFile } from '@loka/core/profile';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { nodeTitle } from '../../shared/nodes.js';
import { NumberField } from '../NumberField.js';
import styles from './WhatIf.module.css';
import { LATER, TYPED, type NumberOf, type Question } from './question.js';

const CHANGE_WORDS: Record<LoadChangeKind, string> = {
  none: 'goes on as it does',
  standby: 'is switched off where it stands by',
  hours: 'runs so many hours a day',
  later: 'runs so many hours later',
  instead: 'is replaced by a load as this one',
};

/** Hours of a year out of a file. */
export interface HoursFile {
  name: string;
  text: string;
}
/** Stands for a file among the places. */
const FILE = -1;

/** What is to be different. */
export function WhatIfForm({
  question,
  isSupply,
  places,
  givers,
  file,
  faults,
  onFile,
  onChange,
}: {
  question: Question;
  isSupply: boolean;
  /** Places whose load could stand in its place. */
  places: InstallationNode[];
  givers: InstallationNode[];
  file: HoursFile | { fault: string } | null;
  /** What the server finds wrong, by field. */
  faults: ReadonlyMap<string, string>;
  onFile: (file: HoursFile | { fault: string } | null) => void;
  onChange: (question: Question) => void;
}) {
  const { change, roof, store, like } = question;
  const field = (name: NumberOf, how = TYPED[name]) => (
    <NumberField
      key={`${how.label} ${question[name]}`}
      how={how}
      value={question[name]}
      fault={faults.get(name)}
      belowZero={how === LATER}
      onChange={(value) => onChange({ ...question, [name]: value })}
    />
  );
  const fileFault = file && 'fault' in file ? file.fault : faults.get('hoursOfYear');
  return (
    <div className={styles.form}>
      {!isSupply && (
        <div className={styles.row}>
          <Select
            label="The load"
            value={change}
            fault={faults.get('change')}
            options={LOAD_CHANGES.map((kind) => ({ value: kind, label: CHANGE_WORDS[kind] }))}
            onChange={(kind) => onChange({ ...question, change: kind as LoadChangeKind })}
          />
          {(change === 'hours' || change === 'later') &&
            field('hours', change === 'later' ? LATER : undefined)}
          {change === 'instead' && (
            <>
              <Select
                label="As"
                value={question.instead ?? ''}
                fault={faults.get('instead')}
                options={[
                  { value: '', label: 'choose a place' },
                  ...places.map((n) => ({ value: n.id, label: nodeTitle(n) })),
                ]}
                onChange={(id) => onChange({ ...question, instead: id === '' ? null : Number(id) })}
              />
              {field('times')}
            </>
          )}
        </div>
      )}
      <div className={styles.row}>
        {field('roof')}
        {roof > 0 && (
          <>
            <Select
              label="Gives as"
              value={file ? FILE : (like ?? '')}
              fault={faults.get('like')}
              options={[
                { value: '', label: 'choose a plant, or a file' },
                ...givers.map((n) => ({ value: n.id, label: nodeTitle(n) })),
                ...(file && 'name' in file ? [{ value: FILE, label: file.name }] : []),
                ...(file && 'fault' in file ? [{ value: FILE, label: 'the file' }] : []),
              ]}
              onChange={(id) => {
                if (id === FILE) return;
                onFile(null);
                onChange({ ...question, like: id === '' ? null : Number(id) });
              }}
            />
            {!file && like !== null && field('likePeak')}
          </>
        )}
      </div>
      {roof > 0 && (
        <p className={styles.file}>
          <label>
            A file with the hours of a year{' '}
            <input
              type="file"
              accept=".csv,.txt,text/plain,text/csv"
              onChange={(event) => {
                const [chosen] = event.target.files ?? [];
                event.target.value = '';
                if (chosen) void read(chosen).then(onFile);
              }}
            />
          </label>
          <small className={fileFault ? 'danger' : 'muted'} role={fileFault ? 'alert' : undefined}>
            {fileFault ?? 'one line per hour from 1 January, ending in watts per kWp'}
          </small>
        </p>
      )}
      <div className={styles.row}>
        {field('store')}
        {store > 0 && (
          <>
            {field('storePower')}
            {field('storeEfficiency')}
          </>
        )}
      </div>
    </div>
  );
}

/** Nothing sensible is larger, bytes. */
const LARGEST = 800_000;

async function read(chosen: File): Promise<HoursFile | { fault: string }> {
  if (chosen.size > LARGEST) return { fault: `“${chosen.name}” is too large for the hours of one year.` };
  const found = hoursOfFile(await chosen.text());
  return 'fault' in found ? found : { name: chosen.name, text: found.hours.join('\n') };
}

function Select({
  label,
  value,
  options,
  fault,
  onChange,
}: {
  label: string;
  value: string | number;
  options: { value: string | number; label: string }[];
  fault: string | undefined;
  onChange: (value: string | number) => void;
}) {
  return (
    <TextField
      select
      variant="standard"
      label={label}
      value={value}
      error={fault !== undefined}
      helperText={fault}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      {options.map((o) => (
        <MenuItem key={o.value} value={o.value}>
          {o.label}
        </MenuItem>
      ))}
    </TextField>
  );
}
