import { COUNTINGS, type Counting, type RegisterKind } from '@loka/core/registers';
import { COUNTING_WORDS, KIND_WORDS, ORDER_WORDS } from './MapRow.js';
import type { ForAll } from './rowEdits.js';
import styles from '../points/pointGrid.module.css';

/** Kind, counting and order set for all rows of a map at once: most devices have one of each. */
export function ForAllRows({ onSet }: { onSet: (forAll: ForAll) => void }) {
  const kinds: RegisterKind[] = ['input', 'holding'];
  return (
    <span className={styles.forAll} role="group" aria-label="For all rows">
      <span className="muted">For all rows:</span>
      <Setting
        label="Kind"
        options={kinds.map((k) => [k, KIND_WORDS[k]])}
        onChoose={(kind) => onSet({ kind: kind as RegisterKind })}
      />
      <Setting
        label="Counted"
        options={COUNTINGS.map((c) => [c, COUNTING_WORDS[c]])}
        onChoose={(counting) => onSet({ counting: counting as Counting })}
      />
      <Setting
        label="Words, bytes"
        options={Object.keys(ORDER_WORDS).map((o) => [o, o])}
        onChoose={(order) => {
          const [wordOrder, byteOrder] = ORDER_WORDS[order] ?? ['high-first', 'high-first'];
          onSet({ wordOrder, byteOrder });
        }}
      />
    </span>
  );
}

function Setting({
  label,
  options,
  onChoose,
}: {
  label: string;
  options: readonly (readonly [value: string, words: string])[];
  onChoose: (value: string) => void;
}) {
  return (
    <label>
      {label}{' '}
      <select value="" onChange={(e) => onChoose(e.target.value)}>
        <option value="" disabled>
          as it is
        </option>
        {options.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}
