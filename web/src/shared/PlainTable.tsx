import { useEffect, useRef, useState, type CSSProperties, type ReactNode } from 'react';

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
  const box = useRef<HTMLDivElement>(null);
  const stacks = head.length > FITS && !keepsColumns;
  const [scrolls, setScrolls] = useState(false);
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const watcher = new ResizeObserver(() => setScrolls(element.scrollWidth > element.clientWidth));
    watcher.observe(element);
    return () => watcher.disconnect();
  }, []);
  return (
    // What scrolls must be reachable with the keyboard.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
    <div className="scroll-x" ref={box} tabIndex={scrolls ? 0 : undefined}>
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
    </div>
  );
}

/** The headings for the style sheet, which sets them before the values: --heading-1, --heading-2 … */
export const stackedHeadings = (head: readonly string[]): CSSProperties =>
  Object.fromEntries(
    head.map((text, i) => [`--heading-${i + 1}`, JSON.stringify(text.replace(/#$/, ''))]),
  ) as CSSProperties;
