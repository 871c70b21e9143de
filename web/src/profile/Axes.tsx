import { printNumber } from '@loka/core/formats';
import styles from './Profiles.module.css';

/** Values beside a picture, at their height. @param at where a value lies, 0 at the top and 1 at the bottom */
export function UpAxis({
  values,
  unit = 'W',
  at,
}: {
  values: readonly number[];
  unit?: string;
  at: (value: number) => number;
}) {
  return (
    <div className={styles.watts} aria-hidden>
      {values.map((value) => {
        const { digits, unit: shown } = printNumber(value, unit);
        return (
          <span key={value} style={{ top: `${100 * at(value)}%` }}>
            {digits} {shown}
          </span>
        );
      })}
    </div>
  );
}

/** Words below a picture, evenly from its left end to its right one. */
export function AlongAxis({ words }: { words: readonly string[] }) {
  return (
    <div className={styles.hours} aria-hidden>
      {words.map((text, i) => (
        <span key={text} style={{ left: `${(100 * i) / (words.length - 1)}%` }}>
          {text}
        </span>
      ))}
    </div>
  );
}
