import type { DashboardContent } from '@loka/core/dashboards';
import type { Edited } from '../shared/useAutosave.js';
import { useFacts } from './facts.js';
import { Sketch } from './Sketch.js';
import { titleOf } from './shown.js';
import styles from './VersionsDialog.module.css';

/** One side of a conflict: the dashboard in small, and what it has that the other has not, or has otherwise. */
export function Side({
  of: { name, content },
  than,
}: {
  of: Edited<DashboardContent>;
  than: DashboardContent;
}) {
  const facts = useFacts();
  const other = new Map(than.elements.map((e) => [e.id, JSON.stringify(e)]));
  const different = content.elements.filter((e) => other.get(e.id) !== JSON.stringify(e));
  return (
    <>
      <p>{name}</p>
      <Sketch elements={content.elements} />
      <p className="muted">{content.elements.length} elements</p>
      <ul className={styles.different}>
        {different.map((e) => (
          <li key={e.id}>
            {titleOf(e, facts) || 'Text'}
            <span className="muted">{other.has(e.id) ? ' otherwise' : ' only here'}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
