import type { Point } from '@loka/contract/points';
import { SHORT_NAME } from '@loka/contract/virtual';
import { useState } from 'react';
import { pointTitle } from '../shared/nodes.js';
import { Reading } from '../shared/Reading.js';

/**
 * An input of a formula: its short name, the point, and what that reads. A name that is being typed is the input's
 * when the field is left, so that the formula never holds half a name; one that is no name is put back.
 */
export function InputRow({
  name,
  point,
  used,
  onRename,
  onRemove,
}: {
  name: string;
  point: Point | undefined;
  used: readonly string[];
  onRename: (name: string) => void;
  onRemove: () => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const wrong = typed !== null && (!SHORT_NAME.test(typed) || (typed !== name && used.includes(typed)));
  return (
    <>
      <input
        className="plain"
        value={typed ?? name}
        aria-label={`Short name of ${point ? pointTitle(point) : name}`}
        aria-invalid={wrong}
        title={wrong ? 'Letters, digits and _, beginning with a letter, and not used yet' : undefined}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={() => {
          if (typed !== null && typed !== name && !wrong) onRename(typed);
          setTyped(null);
        }}
      />
      <span>{point ? pointTitle(point) : 'no longer there'}</span>
      <span>{point && <Reading point={point} brief />}</span>
      <button type="button" aria-label={`Remove ${name}`} onClick={onRemove}>
        ×
      </button>
    </>
  );
}
