import { PlainTable } from './PlainTable.js';
import styles from './Figures.module.css';

/** The figures behind a chart, for whoever cannot see it, or wants to read them. */
export function Figures({
  caption,
  head,
  rows,
}: {
  caption: string;
  /** As {@link PlainTable}. */
  head: readonly string[];
  rows: readonly (readonly string[])[];
}) {
  return (
    <details className={styles.figures}>
      <summary>The figures as a table</summary>
      {/* What scrolls must be reachable with the keyboard. */}
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex */}
      <div role="region" aria-label={caption} tabIndex={0} className={styles.box}>
        <PlainTable head={head}>
          {rows.map((row, i) => (
            <tr key={i}>
              {row.map((cell, k) => (
                <td key={k} className={k === 0 ? '' : 'number measured'}>
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </PlainTable>
      </div>
    </details>
  );
}
