import type { ElementKind, Source } from '@loka/core/dashboards';
import { useMemo, useState } from 'react';
import { PictureList } from '../pictures/PictureList.js';
import { useFacts } from './facts.js';
import styles from './PickList.module.css';
import { choicesFor } from './shown.js';

interface Picking {
  kind: ElementKind;
  chosen: readonly Source[];
  onPick: (source: Source) => void;
}

/** What an element of a kind can show: found by its name, or by what it looks like. */
export const PickList = (picking: Picking) =>
  picking.kind === 'picture' ? (
    <PictureList
      chosen={picking.chosen[0]?.id ?? null}
      onPick={({ id }) => picking.onPick({ of: 'picture', id })}
    />
  ) : (
    <NamedList {...picking} />
  );

function NamedList({ kind, chosen, onPick }: Picking) {
  const facts = useFacts();
  const [wanted, setWanted] = useState('');
  const all = useMemo(() => choicesFor(kind, facts), [kind, facts]);
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const found = all.filter(({ name, group }) =>
    words.every((w) => `${name} ${group}`.toLowerCase().includes(w)),
  );
  const groups = [...new Set(found.map((c) => c.group))];
  return (
    <div className={styles.pick}>
      <input
        className="plain"
        value={wanted}
        onChange={(e) => setWanted(e.target.value)}
        placeholder="Find by place or quantity"
        aria-label="Find what it shows"
      />
      <div className={styles.list} role="group" aria-label="What it can show">
        {groups.map((group) => (
          <div key={group}>
            <h3>{group}</h3>
            {found
              .filter((c) => c.group === group)
              .map(({ source, name }) => (
                <button
                  key={`${source.of} ${source.id}`}
                  type="button"
                  className={styles.choice}
                  aria-pressed={chosen.some((s) => s.of === source.of && s.id === source.id)}
                  onClick={() => onPick(source)}
                >
                  {name}
                </button>
              ))}
          </div>
        ))}
        {found.length === 0 && (
          <p className="muted">
            {all.length === 0
              ? 'There is nothing on the site that it could show.'
              : `Nothing is called “${wanted}”.`}
          </p>
        )}
      </div>
    </div>
  );
}
