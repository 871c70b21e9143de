import { useEffect, useRef, useState, type CSSProperties, type ReactNode } from 'react';

/**
 * A printed schedule that scrolls sideways where it must. A heading that ends in "#" stands over numbers; an empty one over buttons.
 * `stacks`: on a phone each row is a block with its headings before the values, so that its button is in sight.
 */
export function PlainTable({
  head,
  className = '',
  stacks = false,
  children,
}: {
  head: readonly string[];
  className?: string;
  stacks?: boolean;
  children: ReactNode;
}) {
  const box = useRef<HTMLDivElement>(null);
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
        style={stacks ? headings(head) : undefined}
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
const headings = (head: readonly string[]): CSSProperties =>
  Object.fromEntries(
    head.map((text, i) => [`--heading-${i + 1}`, JSON.stringify(text.replace(/#$/, ''))]),
  ) as CSSProperties;
