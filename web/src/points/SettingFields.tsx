import type { PointBasics } from '@loka/core/points';
import { SETTING_LABELS, SETTING_ROLES, type SettingRole } from '@loka/core/settings';

interface Props<T extends PointBasics> {
  row: T;
  onChange: (row: T) => void;
}

/** What a setting sets. */
export function SetsField<T extends PointBasics>({ row, onChange }: Props<T>) {
  return (
    <label>
      Sets{' '}
      <select
        value={row.setting ?? 'other'}
        aria-label={`What is set by ${row.name}`}
        onChange={(e) => onChange({ ...row, setting: e.target.value as SettingRole })}
      >
        {SETTING_ROLES.map((role) => (
          <option key={role} value={role}>
            {SETTING_LABELS[role].toLowerCase()}
          </option>
        ))}
      </select>
    </label>
  );
}

/** The names of the values of an enumeration. */
export function NamesField<T extends PointBasics>({ row, onChange }: Props<T>) {
  return (
    <label>
      Names of its values{' '}
      <input
        size={26}
        placeholder="0=off; 1=running"
        defaultValue={(row.names ?? []).map((n) => `${n.value}=${n.name}`).join('; ')}
        aria-label={`Names of ${row.name}`}
        onBlur={(e) => {
          const { names: _, ...rest } = row;
          const names = namesIn(e.target.value);
          onChange((names ? { ...rest, names } : rest) as T);
        }}
      />
    </label>
  );
}

/** "0=off; 1=running"; what is no pair is left out, and the field shows what was taken. */
function namesIn(text: string): PointBasics['names'] {
  const names = text.split(';').flatMap((part) => {
    const [value, name] = part.split('=').map((s) => s.trim());
    return value && name && Number.isFinite(Number(value)) ? [{ value: Number(value), name }] : [];
  });
  return names.length > 0 ? names : undefined;
}
