import type { TrialRead } from '@loka/contract/acquisition';
import { quantityInfo } from '@loka/core/quantities';
import {
  ACCESSES,
  COUNTINGS,
  hexWord,
  isBitKind,
  ownWords,
  REGISTER_KINDS,
  VALUE_TYPES,
  type Access,
  type Counting,
  type MapFault,
  type PointDefinition,
  type RegisterKind,
  type ValueType,
  type WordOrder,
} from '@loka/core/registers';
import { useState } from 'react';
import { FaultsRow, MeasureCells, NameCell, RemoveRow } from '../points/PointCells.js';
import { Measured } from '../shared/Measured.js';
import { onTheWire } from './draft.js';
import styles from '../points/pointGrid.module.css';
import { DurationInput } from '../points/DurationInput.js';
import { hasDetails, RowDetails } from './RowDetails.js';
import { withKind, withRegisterAccess, withType } from './rowEdits.js';

export const KIND_WORDS: Record<RegisterKind, string> = {
  coil: 'coil',
  discrete: 'discrete input',
  input: 'input register',
  holding: 'holding register',
};
export const COUNTING_WORDS: Record<Counting, string> = {
  'from-0': 'from 0',
  'from-1': 'from 1',
  notation: '4xxxx',
};
const ACCESS_WORDS: Record<Access, string> = {
  read: 'read',
  write: 'written',
  'read-write': 'both',
  setting: 'setting',
};
export const ORDER_WORDS: Record<string, [WordOrder, WordOrder]> = {
  'high, high': ['high-first', 'high-first'],
  'low, high': ['low-first', 'high-first'],
  'high, low': ['high-first', 'low-first'],
  'low, low': ['low-first', 'low-first'],
};

interface Props {
  row: PointDefinition;
  read: TrialRead | undefined;
  faults: MapFault[];
  /** What is worth knowing and not wrong: a gap that costs a request. */
  note?: string | undefined;
  onChange: (row: PointDefinition) => void;
  onRemove: () => void;
  /** Opens the finder for this row; absent where no device can be read. */
  onFind?: (() => void) | undefined;
}

/** A float of next to nothing that is not nothing is what one with its words exchanged looks like. */
const isOddFloat = ({ type }: PointDefinition, value: number | null | undefined): boolean =>
  type.startsWith('float') && value != null && value !== 0 && Math.abs(value) < 1e-6;

/** One value of a map: how it lies in the registers, and what is there now. */
export function MapRow({ row, read, faults, note, onChange, onRemove, onFind }: Props) {
  const [asked, setAsked] = useState(false);
  const details = asked || hasDetails(row);
  const set = <K extends keyof PointDefinition>(field: K, value: PointDefinition[K]) =>
    onChange({ ...row, [field]: value });
  const wrong = (field: keyof PointDefinition) => faults.some((f) => f.field === field) || undefined;
  const named = (what: string) => ({ 'aria-label': `${what} of ${row.name}` });
  const order = Object.entries(ORDER_WORDS).find(
    ([, [w, b]]) => w === row.wordOrder && b === row.byteOrder,
  )?.[0];
  const wire = onTheWire(row);
  return (
    <>
      <tr className={faults.length > 0 ? styles.faulty : ''} data-key={row.key}>
        <NameCell row={row} onChange={onChange} wrong={wrong} />
        <td className={`${styles.read} ${styles.words} measured`}>
          {read?.words ? (
            ownWords(row, read.words)
              .map((w) => (isBitKind(row.kind) ? String(w) : hexWord(w)))
              .join(' ')
          ) : (
            <span className="muted">–</span>
          )}
        </td>
        <td className={`${styles.read} ${styles.given} number`}>
          {read?.text !== undefined && <span className="measured">{read.text || '(empty)'}</span>}
          {read?.value != null && <Measured value={read.value} unit={quantityInfo(row.quantity).unit} />}
          {isOddFloat(row, read?.value) && (
            <div className={styles.doubt}>almost zero: are the words in the right order?</div>
          )}
          {read?.message && <div className={styles.doubt}>{read.message}</div>}
        </td>
        <td>
          <select
            value={row.kind}
            onChange={(e) => onChange(withKind(row, e.target.value as RegisterKind))}
            {...named('Kind')}
          >
            {REGISTER_KINDS.map((k) => (
              <option key={k} value={k}>
                {KIND_WORDS[k]}
              </option>
            ))}
          </select>
        </td>
        <td>
          <input
            value={row.address}
            onChange={(e) => set('address', e.target.value)}
            aria-invalid={wrong('address')}
            {...named('Address')}
            className={styles.number}
          />
        </td>
        <td>
          <select
            value={row.counting}
            onChange={(e) => set('counting', e.target.value as Counting)}
            {...named('Counting')}
          >
            {COUNTINGS.map((c) => (
              <option key={c} value={c}>
                {COUNTING_WORDS[c]}
              </option>
            ))}
          </select>
        </td>
        <td className="measured muted">{wire === null ? '–' : `${wire} ${hexWord(wire)}h`}</td>
        <td>
          <select
            value={row.type}
            disabled={isBitKind(row.kind)}
            onChange={(e) => onChange(withType(row, e.target.value as ValueType))}
            aria-invalid={wrong('type')}
            {...named('Type')}
          >
            {VALUE_TYPES.map((t) => (
              <option key={t}>{t}</option>
            ))}
          </select>
        </td>
        <td>
          <select
            value={order}
            disabled={isBitKind(row.kind)}
            title="Which comes first: the high or the low word, and the high or the low byte in it"
            onChange={(e) => {
              const [wordOrder, byteOrder] = ORDER_WORDS[e.target.value] as [WordOrder, WordOrder];
              onChange({ ...row, wordOrder, byteOrder });
            }}
            {...named('Order')}
          >
            {Object.keys(ORDER_WORDS).map((o) => (
              <option key={o}>{o}</option>
            ))}
          </select>
        </td>
        <MeasureCells row={row} onChange={onChange} wrong={wrong} />
        <td>
          <select
            value={row.access}
            onChange={(e) => onChange(withRegisterAccess(row, e.target.value as Access))}
            aria-invalid={wrong('access')}
            {...named('Access')}
          >
            {ACCESSES.map((a) => (
              <option key={a} value={a}>
                {ACCESS_WORDS[a]}
              </option>
            ))}
          </select>
        </td>
        <td>
          <DurationInput
            value={row.intervalMs}
            onChange={(v) => set('intervalMs', v)}
            label={`Interval of ${row.name}`}
          />
        </td>
        <td className={styles.actions}>
          <button
            type="button"
            onClick={() => setAsked(!asked)}
            aria-expanded={details}
            aria-label={`More about ${row.name}`}
            title="Bit, second register, names of values, what a command sends, what a setting sets"
          >
            …
          </button>
          {onFind && !isBitKind(row.kind) && (
            <button
              type="button"
              onClick={onFind}
              aria-label={`Find out what ${row.name} is`}
              title="Find out how this value lies in the registers"
            >
              ?
            </button>
          )}
          <RemoveRow name={row.name} onRemove={onRemove} />
        </td>
      </tr>
      {(details || note) && (
        <tr>
          <td />
          <td colSpan={15} className={styles.more}>
            {note && <p className="muted">{note}</p>}
            {details && <RowDetails row={row} onChange={onChange} />}
          </td>
        </tr>
      )}
      <FaultsRow name={row.name} faults={faults.map((f) => f.message)} span={16} />
    </>
  );
}
