import { useEffect, useRef, useState, type ReactElement } from 'react';

/** A table that is wider than its room scrolls sideways in itself; it can then be reached with the keyboard. */
export function ScrollBox({ children }: { children: ReactElement }) {
  const box = useRef<HTMLDivElement>(null);
  const [scrolls, setScrolls] = useState(false);
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const watcher = new ResizeObserver(() => setScrolls(element.scrollWidth > element.clientWidth));
    watcher.observe(element);
    // A row that comes later, or a longer value, widens the table and not its box.
    for (const table of element.children) watcher.observe(table);
    return () => watcher.disconnect();
  }, []);
  return (
    // What scrolls must be reachable with the keyboard.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
    <div className="scroll-x" ref={box} tabIndex={scrolls ? 0 : undefined}>
      {children}
    </div>
  );
}
