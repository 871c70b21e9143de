import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { isReadable } from '@loka/core/points';
import type { SaidReference } from '@loka/core/calibration';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useReading } from '../api/live.js';
import { useInstruments } from '../api/useApi.js';
import { Measured } from '../shared/Measured.js';
import { nodeTitle, unitOf } from '../shared/nodes.js';
import type { TypedReference } from './typedReference.js';
import styles from './BenchPage.module.css';

interface Props {
  typed: TypedReference;
  onChange: (typed: TypedReference) => void;
  said: SaidReference | { fault: string };
  unit: string;
}

/** What an instrument shows, and how far it may be off. */
export function InstrumentFields({ typed, onChange, said, unit }: Props) {
  const fault = typed.shows !== '' && 'fault' in said ? said.fault : null;
  const { data: instruments = [] } = useInstruments();
  const used = instruments.find((i) => i.id === typed.instrumentId);
  const choose = (id: number) => {
    const chosen = instruments.find((i) => i.id === id);
    onChange(
      chosen
        ? { ...typed, instrumentId: id, instrument: chosen.name, percent: String(chosen.percent) }
        : { ...typed, instrumentId: null },
    );
  };
  return (
    <>
      <TextField
        label={`The reference reads, ${unit}`}
        value={typed.shows}
        inputMode="decimal"
        onChange={(e) => onChange({ ...typed, shows: e.target.value })}
        error={fault !== null}
        helperText={fault}
        placeholder="11.35, or 11.2 – 11.5"
      />
      <div className={styles.pair}>
        {instruments.length > 0 && (
          <TextField
            select
            label="Instrument"
            value={typed.instrumentId ?? ''}
            onChange={(e) => choose(Number(e.target.value))}
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
          >
            {instruments.map((i) => (
              <MenuItem key={i.id} value={i.id}>
                {i.name}
                {i.isDue ? ', past due' : ''}
              </MenuItem>
            ))}
            <MenuItem value="">another</MenuItem>
          </TextField>
        )}
        {typed.instrumentId === null && (
          <TextField
            label={instruments.length > 0 ? 'Which' : 'Instrument'}
            value={typed.instrument}
            onChange={(e) => onChange({ ...typed, instrument: e.target.value })}
          />
        )}
        <TextField
          label="Tolerance, ±%"
          value={typed.percent}
          inputMode="decimal"
          onChange={(e) => onChange({ ...typed, percent: e.target.value })}
        />
      </div>
      {used?.isDue && (
        <span className="warn">
          {used.name} was due for its own calibration on {used.dueOn}.
        </span>
      )}
    </>
  );
}

/** A load whose power is known. */
export function LoadFields({ typed, onChange, said, unit, volts }: Props & { volts: number | null }) {
  const text = (field: 'load' | 'watts' | 'factor' | 'ratedVolts' | 'platePercent', label: string) => (
    <TextField
      label={label}
      value={typed[field]}
      {...(field === 'load' ? {} : { inputMode: 'decimal' as const })}
      onChange={(e) => onChange({ ...typed, [field]: e.target.value })}
    />
  );
  return (
    <>
      <div className={styles.pair}>
        {text('load', 'Load')}
        {text('watts', 'Power, W')}
      </div>
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={typed.heater}
            onChange={(e) => onChange({ ...typed, heater: e.target.checked })}
          />
        }
        label="A heater or kettle: its rating is for its rated voltage"
      />
      <div className={styles.reference}>
        <TextField
          label="Now, V"
          value={typed.volts ?? volts?.toFixed(1) ?? ''}
          inputMode="decimal"
          onChange={(e) => onChange({ ...typed, volts: e.target.value })}
        />
        {typed.heater ? text('ratedVolts', 'Rated, V') : text('factor', 'Power factor')}
        {text('platePercent', 'Plate, ±%')}
      </div>
      {/micro/i.test(typed.load) && (
        <span className="warn">
          A microwave oven’s rating is its output, not what it draws, and it cycles. Use a kettle.
        </span>
      )}
      <span className={'fault' in said && typed.watts !== '' ? 'danger' : 'muted'}>
        {typed.watts === '' ? (
          'Type what the load draws.'
        ) : 'fault' in said ? (
          said.fault
        ) : (
          <>
            that is <Measured value={said.reference} unit={unit} />
          </>
        )}
      </span>
    </>
  );
}

/** Another meter on the same conductor. */
export function MeterFields({
  typed,
  onChange,
  point,
  points,
  nodes,
}: Omit<Props, 'said' | 'unit'> & { point: Point; points: Point[]; nodes: InstallationNode[] }) {
  // One that belongs nowhere, too: a portable meter that is clamped on for the time.
  const others = points
    .filter(
      (p) =>
        p.id !== point.id && p.definition.quantity === point.definition.quantity && isReadable(p.definition),
    )
    .sort((a, b) => Number(a.nodeId === null) - Number(b.nodeId === null));
  const reading = useReading(typed.meterId ?? undefined);
  const title = (p: Point) => {
    const node = nodes.find((n) => n.id === p.nodeId);
    return `${node ? nodeTitle(node) : 'Not placed'}: ${p.definition.name} (${p.deviceName})`;
  };
  return (
    <>
      <TextField
        select
        label="The other meter, on the same conductor"
        value={typed.meterId ?? ''}
        onChange={(e) => onChange({ ...typed, meterId: Number(e.target.value) })}
      >
        {others.map((p) => (
          <MenuItem key={p.id} value={p.id}>
            {title(p)}
          </MenuItem>
        ))}
      </TextField>
      <div className={styles.pair}>
        <TextField
          label="Tolerance, ±%"
          value={typed.meterPercent}
          inputMode="decimal"
          onChange={(e) => onChange({ ...typed, meterPercent: e.target.value })}
        />
        <span className={styles.beside}>
          <span className="muted">it reads</span> <Measured value={reading?.v} unit={unitOf(point)} />
        </span>
      </div>
      {others.length === 0 && <span className="muted">There is no other point of this quantity.</span>}
    </>
  );
}

/** What a test bench has found: the error at a load, percent of the load. */
export function BenchFields({ typed, onChange, said, unit }: Props) {
  const text = (field: 'benchLoad' | 'benchError' | 'benchPercent', label: string) => (
    <TextField
      label={label}
      value={typed[field]}
      inputMode="decimal"
      onChange={(e) => onChange({ ...typed, [field]: e.target.value })}
    />
  );
  return (
    <>
      <div className={styles.reference}>
        {text('benchLoad', `Load, ${unit}`)}
        {text('benchError', 'Error, %')}
        {text('benchPercent', 'Good to, ±%')}
      </div>
      {'fault' in said && typed.benchLoad !== '' && typed.benchError !== '' && (
        <span className="danger">{said.fault}</span>
      )}
    </>
  );
}
