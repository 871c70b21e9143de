import type { DeviceSetting } from '@loka/contract/settings';
import { useState } from 'react';
import { typedNumber } from '../shared/typedNumber.js';
import { exact } from './settingInWords.js';
import styles from './Settings.module.css';

/** What is wanted of a setting: typed, or chosen where its values have names. Empty: nothing is. */
export function WantedCell({
  setting,
  onWant,
}: {
  setting: DeviceSetting;
  onWant: (value: number | null) => Promise<boolean>;
}) {
  const { name, names, wanted, unit, writable } = setting;
  const shown = wanted === null ? '' : exact(wanted);
  /** What is being typed; null while nobody does, and what is wanted stands there. */
  const [typed, setTyped] = useState<string | null>(null);
  const label = `${name}, wanted`;
  if (names.length > 0)
    return (
      <select
        aria-label={label}
        value={shown}
        onChange={(e) => void onWant(e.target.value === '' ? null : Number(e.target.value))}
      >
        <option value="">–</option>
        {names.map((n) => (
          <option key={n.value} value={n.value}>
            {n.name}
          </option>
        ))}
      </select>
    );
  const text = typed ?? shown;
  const number = typedNumber(text);
  const wrong = number !== null && !Number.isFinite(number);
  const take = async () => {
    if (wrong || typed === null) return;
    // What the server does not take stays as it was typed, with the reason at the foot of the screen.
    if (typed === shown || (await onWant(number))) setTyped(null);
  };
  return (
    <span className={styles.wanted}>
      <input
        className="plain"
        aria-label={label}
        aria-invalid={wrong || undefined}
        inputMode="decimal"
        value={text}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={() => void take()}
        onKeyDown={(e) => e.key === 'Enter' && void take()}
      />{' '}
      <span className="unit">{unit}</span>
      {!writable && <span className="muted"> reported only</span>}
    </span>
  );
}
