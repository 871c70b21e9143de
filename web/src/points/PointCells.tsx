import {
  PHASES,
  QUANTITIES,
  QUANTITY_NAMES,
  quantityInfo,
  type Phase,
  type Quantity,
} from '@loka/core/quantities';
import type { PointBasics } from '@loka/core/points';
import type { Column } from './PointGrid.js';
import { ScalingCell } from './ScalingCell.js';
import styles from './pointGrid.module.css';

interface Props<T extends PointBasics> {
  row: T;
  onChange: (row: T) => void;
  /** Whether what stands in a field is wrong; left out where faults are told for the whole row. */
  wrong?: (field: keyof PointBasics) => true | undefined;
}

/** What a row of a map of registers and one of messages have in common: its name. */
export function NameCell<T extends PointBasics>({ row, onChange, wrong }: Props<T>) {
  return (
    <td>
      <input
        value={row.name}
        onChange={(e) => onChange({ ...row, name: e.target.value })}
        aria-invalid={wrong?.('name')}
        aria-label="Name"
        size={15}
      />
    </td>
  );
}

/** What stands over {@link MeasureCells}. */
export const MEASURE_COLUMNS: readonly Column[] = [['Scaling'], ['Quantity'], ['Unit'], ['Conductor']];

/** From the number to what is measured: scaling, quantity, unit, conductor. Four cells. */
export function MeasureCells<T extends PointBasics>({ row, onChange, wrong }: Props<T>) {
  const { units } = quantityInfo(row.quantity);
  const setQuantity = (quantity: Quantity) => {
    const info = quantityInfo(quantity);
    onChange({ ...row, quantity, unit: row.unit in info.units ? row.unit : info.unit });
  };
  return (
    <>
      <td className={styles.wide}>
        <ScalingCell
          scaling={row.scaling}
          invalid={wrong?.('scaling')}
          name={row.name}
          onChange={(scaling) => onChange({ ...row, scaling })}
        />
      </td>
      <td>
        <select
          value={row.quantity}
          onChange={(e) => setQuantity(e.target.value as Quantity)}
          aria-label={`Quantity of ${row.name}`}
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
          onChange={(e) => onChange({ ...row, unit: e.target.value })}
          aria-invalid={wrong?.('unit')}
          aria-label={`Unit of ${row.name}`}
        >
          {[...new Set([...Object.keys(units), row.unit])].map((u) => (
            <option key={u} value={u}>
              {u || 'none'}
            </option>
          ))}
        </select>
      </td>
      <td>
        <select
          value={row.phase ?? ''}
          onChange={(e) =>
            onChange({ ...row, phase: e.target.value === '' ? null : (e.target.value as Phase) })
          }
          aria-label={`Conductor of ${row.name}`}
        >
          <option value="">–</option>
          {PHASES.map((p) => (
            <option key={p}>{p}</option>
          ))}
        </select>
      </td>
    </>
  );
}

export function RemoveRow({ name, onRemove }: { name: string; onRemove: () => void }) {
  return (
    <button type="button" onClick={onRemove} aria-label={`Remove ${name}`} title="Remove this value">
      ×
    </button>
  );
}

/** What is wrong with a row, beneath it. */
export function FaultsRow({ name, faults, span }: { name: string; faults: string[]; span: number }) {
  if (faults.length === 0) return null;
  return (
    <tr>
      <td colSpan={span} className={styles.message}>
        <div role="alert">
          {[...new Set(faults)].map((fault) => (
            <p key={fault}>
              {name}: {fault}
            </p>
          ))}
        </div>
      </td>
    </tr>
  );
}
