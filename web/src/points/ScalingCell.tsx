import type { Scaling } from '@loka/core/points';
import styles from './pointGrid.module.css';
import { NumberInput } from './NumberInput.js';

/** How a decoded number becomes an engineering value: factor and offset, or two raw–engineering pairs. */
export function ScalingCell({
  scaling,
  invalid,
  name,
  onChange,
}: {
  scaling: Scaling;
  invalid: true | undefined;
  name: string;
  onChange: (scaling: Scaling) => void;
}) {
  const select = (
    <select
      value={scaling.kind}
      aria-label={`Scaling of ${name}`}
      aria-invalid={invalid}
      onChange={(e) =>
        onChange(
          e.target.value === 'factor'
            ? { kind: 'factor', factor: 1, offset: 0 }
            : { kind: 'pairs', raw1: 0, value1: 0, raw2: 9999, value2: 100 },
        )
      }
    >
      <option value="factor">× factor + offset</option>
      <option value="pairs">two pairs</option>
    </select>
  );
  if (scaling.kind === 'factor')
    return (
      <div className={styles.pairs}>
        {select}
        <NumberInput
          value={scaling.factor}
          onChange={(factor) => onChange({ ...scaling, factor })}
          label={`Factor of ${name}`}
        />
        <NumberInput
          value={scaling.offset}
          onChange={(offset) => onChange({ ...scaling, offset })}
          label={`Offset of ${name}`}
        />
      </div>
    );
  const field = (key: 'raw1' | 'value1' | 'raw2' | 'value2', label: string) => (
    <NumberInput
      value={scaling[key]}
      onChange={(v) => onChange({ ...scaling, [key]: v })}
      label={`${label} of ${name}`}
    />
  );
  return (
    <div className={styles.pairs}>
      {select}
      {field('raw1', 'First raw value')}
      <span>↔</span>
      {field('value1', 'First engineering value')}
      <span />
      {field('raw2', 'Second raw value')}
      <span>↔</span>
      {field('value2', 'Second engineering value')}
    </div>
  );
}
