import type { Part } from './parts.js';

/** A sentence with its numbers set apart. */
export function Said({ parts }: { parts: readonly Part[] }) {
  return (
    <p>
      {parts.map((part, k) =>
        typeof part === 'string' ? (
          part
        ) : (
          <b key={k} className="measured">
            {part.digits}
            <span className="unit">{part.unit}</span>
          </b>
        ),
      )}
    </p>
  );
}
