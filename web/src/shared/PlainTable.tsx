import type { CSSProperties, ReactNode } from 'react';
import { ScrollBox } from './ScrollBox.js';

/** A phone has room for so many columns. */
const FITS = 3;

/**
 * A printed schedule. A heading that ends in "#" stands over numbers; an empty one over buttons.
 * On a phone each row of more than three columns is a block with its headings before the values: nothing is out of sight.
 * `keepsColumns`: it hides by itself those for which a phone has no room.
 */
export function PlainTable({
  head,
  className = '',
  keepsColumns = false,
  children,
}: {
  head: readonly string[];
  className?: string;
  keepsColumns?: boolean;
  children: ReactNode;
}) {
  const stacks = head.length > FITS && !keepsColumns;
  return (
    <ScrollBox>
      <table
        className={`plain ${stacks ? 'stack labelled' : ''} ${className}`}
        style={stacks ? stackedHeadings(head) : undefined}
      >
        <thead>
          <tr>
            {head.map((text, i) => (
              <th key={i} className={text.endsWith('#') ? 'number' : ''}>
                {text.replace(/#$/, '')}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </ScrollBox>
  );
}

/** The headings for the style sheet, which sets them before the values: --heading-1, --heading-2 … */
export const stackedHeadings = (head: readonly string[]): CSSProperties =>
  Object.fromEntries(
    head.map((text, i) => [`--heading-${i + 1}`, JSON.stringify(text.replace(/#$/, ''))]),
  ) as CSSProperties;
