import type { TrialRead } from '@loka/contract/devices';
import {
  PHASES,
  QUANTITIES,
  QUANTITY_NAMES,
  quantityInfo,
  type Phase,
  type Quantity,
} from '@loka/core/quantities';
import {
  ACCESSES,
  COUNTINGS,
  hexWord,
  isBitKind,
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
import { Measured } from '../shared/Measured.js';
import { onTheWire } from './draft.js';
import styles from './MapPage.module.css';
import { NumberInput } from './NumberInput.js';
import { ScalingCell } from './ScalingCell.js';

const KIND_WORDS: Record<RegisterKind, string> = {
  coil: 'coil',
  discrete: 'discrete input',
  input: 'input register',
  holding: 'holding register',
};
const COUNTING_WORDS: Record<Counting, string> = {
  'from-0': 'from 0',
  'from-1': 'from 1',
  notation: '4xxxx',
};
const ACCESS_WORDS: Record<Access, string> = { read: 'read', write: 'written', 'read-write': 'both' };
const ORDER_WORDS: Record<string, [WordOrder, WordOrder]> = {
  'high, high': ['high-first', 'high-first'],
  'low, high': ['low-first', 'high-first'],
  'high, low': ['high-first', 'low-first'],
  'low, low': ['low-first', 'low-first'],
};

interface Props {
  row: PointDefinition;
  read: TrialRead | undefined;
  faults: MapFault[];
  onChange: (row: PointDefinition) => void;
  onRemove: () => void;
  /** Opens the finder for this row; absent where no device can be read. */
  onFind?: (() => void) | undefined;
}

/** One value of a map: how it lies in the registers, and what is there now. */
export function MapRow({ row, read, faults, onChange, onRemove, onFind }: Props) {
  const set = <K extends keyof PointDefinition>(field: K, value: PointDefinition[K]) =>
    onChange({ ...row, [field]: value });
  const wrong = (field: keyof PointDefinition) => faults.some((f) => f.field === field) || undefined;
  const named = (what: string) => ({ 'aria-label': `${what} of ${row.name}` });
  const order = Object.entries(ORDER_WORDS).find(
    ([, [w, b]]) => w === row.wordOrder && b === row.byteOrder,
  )?.[0];
  const wire = onTheWire(row);
  const setKind = (kind: RegisterKind) =>
    onChange({
      ...row,
      kind,
      ...(isBitKind(kind)
        ? { type: 'bool', quantity: 'contact-state', unit: '', phase: null }
        : row.type === 'bool'
          ? { type: 'uint16' }
          : {}),
    });
  const setQuantity = (quantity: Quantity) =>
    onChange({
      ...row,
      quantity,
      unit: row.unit in quantityInfo(quantity).units ? row.unit : quantityInfo(quantity).unit,
    });
  return (
    <>
      <tr className={faults.length > 0 ? styles.faulty : ''}>
        <td>
          <input
            value={row.name}
            onChange={(e) => set('name', e.target.value)}
            aria-invalid={wrong('name')}
            aria-label="Name"
            size={15}
          />
        </td>
        <td>
          <select
            value={row.kind}
            onChange={(e) => setKind(e.target.value as RegisterKind)}
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
        <td className={`${styles.read} measured`}>
          {read?.words ? (
            read.words.map((w) => (isBitKind(row.kind) ? String(w) : hexWord(w))).join(' ')
          ) : (
            <span className="muted">–</span>
          )}
        </td>
        <td className={`${styles.read} number`}>
          {read?.value != null && <Measured value={read.value} unit={quantityInfo(row.quantity).unit} />}
          {read?.message && <div className={styles.doubt}>{read.message}</div>}
        </td>
        <td>
          <select
            value={row.type}
            disabled={isBitKind(row.kind)}
            onChange={(e) => set('type', e.target.value as ValueType)}
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
        <td>
          <ScalingCell
            scaling={row.scaling}
            invalid={wrong('scaling')}
            name={row.name}
            onChange={(scaling) => set('scaling', scaling)}
          />
        </td>
        <td>
          <select
            value={row.quantity}
            onChange={(e) => setQuantity(e.target.value as Quantity)}
            {...named('Quantity')}
          >
            {QUANTITY_NAMES.map((q) => (
              <option key={q} value={q}>
                {QUANTITIES[q].label}
              </option>
            ))}
          </select>
        </td>
        <td>
          <select
            value={row.unit}
            onChange={(e) => set('unit', e.target.value)}
            aria-invalid={wrong('unit')}
            {...named('Unit')}
          >
            {[...new Set([...Object.keys(quantityInfo(row.quantity).units), row.unit])].map((u) => (
              <option key={u} value={u}>
                {u || 'none'}
              </option>
            ))}
          </select>
        </td>
        <td>
          <select
            value={row.phase ?? ''}
            onChange={(e) => set('phase', e.target.value === '' ? null : (e.target.value as Phase))}
            {...named('Conductor')}
          >
            <option value="">–</option>
            {PHASES.map((p) => (
              <option key={p}>{p}</option>
            ))}
          </select>
        </td>
        <td>
          <select
            value={row.access}
            onChange={(e) => set('access', e.target.value as Access)}
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
          <NumberInput
            value={row.intervalMs}
            onChange={(v) => set('intervalMs', v)}
            label={`Interval of ${row.name}`}
          />
        </td>
        <td>
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
          <button
            type="button"
            onClick={onRemove}
            aria-label={`Take ${row.name} off`}
            title="Take this value off"
          >
            ×
          </button>
        </td>
      </tr>
      {faults.length > 0 && (
        <tr>
          <td colSpan={16} className={styles.message} role="alert">
            {faults.map((f) => (
              <p key={f.field + f.message}>
                {row.name}: {f.message}
              </p>
            ))}
          </td>
        </tr>
      )}
    </>
  );
}
