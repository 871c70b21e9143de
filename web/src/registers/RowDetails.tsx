import {
  isBitKind,
  isSetting,
  isWritable,
  isWritableKind,
  type Companion,
  type PointDefinition,
} from '@loka/core/registers';
import { NamesField, SetsField } from '../points/SettingFields.js';
import styles from '../points/pointGrid.module.css';

/** The members of a value that only some have: bit, text length, a second register, names of states, what a command sends. */
export function RowDetails({
  row,
  onChange,
}: {
  row: PointDefinition;
  onChange: (row: PointDefinition) => void;
}) {
  const named = (what: string) => ({ 'aria-label': `${what} of ${row.name}` });
  /** Sets a member, or leaves it out. */
  const set = <K extends keyof PointDefinition>(field: K, value: PointDefinition[K] | undefined) => {
    const { [field]: _, ...rest } = row;
    onChange((value === undefined ? rest : { ...rest, [field]: value }) as PointDefinition);
  };
  const number = (text: string): number | undefined =>
    text.trim() === '' || !Number.isFinite(Number(text)) ? undefined : Number(text);
  const isBool = row.type === 'bool';
  const { companion } = row;
  return (
    <div className={styles.details}>
      {isBool && !isBitKind(row.kind) && (
        <label>
          Bit{' '}
          <input
            className={styles.number}
            defaultValue={row.bit ?? ''}
            placeholder="any"
            {...named('Bit')}
            onBlur={(e) => set('bit', number(e.target.value))}
          />
        </label>
      )}
      {isBool && (
        <label>
          <input
            type="checkbox"
            checked={row.inverted ?? false}
            onChange={(e) => set('inverted', e.target.checked || undefined)}
          />{' '}
          Inverted (0 is on)
        </label>
      )}
      {row.type === 'string' && (
        <label>
          Registers{' '}
          <input
            className={styles.number}
            defaultValue={row.length ?? ''}
            {...named('Length')}
            onBlur={(e) => set('length', number(e.target.value))}
          />
        </label>
      )}
      {!isBool && row.type !== 'string' && (
        <label>
          Needs another register{' '}
          <select
            value={companion?.role ?? ''}
            {...named('Second register')}
            onChange={(e) => set('companion', companionOf(e.target.value, companion))}
          >
            <option value="">no</option>
            <option value="decimals">with its decimals</option>
            <option value="exponent">with its power of ten</option>
          </select>
        </label>
      )}
      {companion && (
        <label>
          at{' '}
          <input
            className={styles.number}
            defaultValue={companion.address}
            {...named('Address of the second register')}
            onBlur={(e) => set('companion', { ...companion, address: e.target.value.trim() })}
          />
        </label>
      )}
      {companion?.role === 'decimals' && (
        <label>
          digits{' '}
          <input
            className={styles.number}
            defaultValue={companion.digits}
            {...named('Digits')}
            onBlur={(e) =>
              set('companion', { ...companion, digits: number(e.target.value) ?? companion.digits })
            }
          />
        </label>
      )}
      {!isBool && row.type !== 'string' && (
        <label>
          Not available{' '}
          <input
            className={styles.number}
            defaultValue={row.noValue === undefined ? '' : `0x${row.noValue.toString(16).toUpperCase()}`}
            placeholder="0x8000"
            title="What the registers hold where the device has no value"
            {...named('Code for not available')}
            onBlur={(e) => set('noValue', number(e.target.value))}
          />
        </label>
      )}
      {!isBool && row.type !== 'string' && <NamesField row={row} onChange={onChange} />}
      {row.access === 'write' && (
        <label>
          Always sends{' '}
          <input
            className={styles.number}
            defaultValue={row.send ?? ''}
            placeholder="any"
            {...named('What is sent')}
            onBlur={(e) => set('send', number(e.target.value))}
          />
        </label>
      )}
      {(isWritable(row) || isSetting(row)) && isWritableKind(row.kind) && (
        <label title="Some devices take even a single value only by the functions for several">
          <input
            type="checkbox"
            checked={row.writeMultiple ?? false}
            {...named('Multiple write')}
            onChange={(e) => set('writeMultiple', e.target.checked || undefined)}
          />{' '}
          Always write with function {row.kind === 'coil' ? 15 : 16}
        </label>
      )}
      {row.access === 'setting' && <SetsField row={row} onChange={onChange} />}
    </div>
  );
}

function companionOf(role: string, before: Companion | undefined): Companion | undefined {
  const address = before?.address ?? '';
  if (role === 'decimals') return { role, address, digits: 2 };
  if (role === 'exponent') return { role, address };
  return undefined;
}

/** Whether a row has any such member, so that it is shown without being asked for. */
export const hasDetails = ({
  bit,
  inverted,
  length,
  companion,
  names,
  send,
  setting,
  noValue,
  writeMultiple,
  type,
}: PointDefinition): boolean =>
  [bit, inverted, length, companion, names, send, setting, noValue, writeMultiple].some(
    (m) => m !== undefined,
  ) || type === 'string';
