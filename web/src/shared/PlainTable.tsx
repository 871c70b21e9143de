import type { ReactNode } from 'react';

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
  return (
    <div className="scroll-x">
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
