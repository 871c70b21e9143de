import type { ReactNode, TableHTMLAttributes } from 'react';
import { stackedHeadings } from '../shared/PlainTable.js';
import styles from './pointGrid.module.css';

/** A column: what stands over it, and the class of its heading. An empty one stands over buttons. */
export type Column = readonly [heading: string, className?: string];

/**
 * The values of a map, a row each, typed as in a spreadsheet. On a phone a row is a block: its name, then its fields two
 * abreast with their headings over them.
 */
export function PointGrid({
  columns,
  className = '',
  hidden = false,
  children,
  ...table
}: {
  columns: readonly Column[];
  hidden?: boolean;
  children: ReactNode;
} & TableHTMLAttributes<HTMLTableElement>) {
  return (
    <div className={`${styles.grid} ${className}`} hidden={hidden}>
      <table
        className="plain stack labelled"
        style={stackedHeadings(columns.map(([heading]) => heading))}
        {...table}
      >
        <thead>
          <tr>
            {columns.map(([heading, of], i) => (
              <th key={i} className={of} aria-label={heading === '' ? 'Remove' : undefined}>
                {heading}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </div>
  );
}
