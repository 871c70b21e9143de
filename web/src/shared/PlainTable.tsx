import { useEffect, useRef, useState, type ReactNode } from 'react';

/** A printed schedule that scrolls sideways where it must. A heading that ends in "#" stands over numbers; an empty one over buttons. */
export function PlainTable({
  head,
  className = '',
  children,
}: {
  head: readonly string[];
  className?: string;
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
      <table className={`plain ${className}`}>
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
