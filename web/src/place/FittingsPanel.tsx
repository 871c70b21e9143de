import type { InstallationNode } from '@loka/contract/installation';
import { siteClock } from '@loka/core/time';
import { useFittings } from '../api/useApi.js';
import { usePeriod } from '../shared/period.js';
import styles from './PlacePage.module.css';

const SHOWN = 4;

/** What was fitted when: devices, transducers, settings, wiring. The newest lines; the others behind a fold. */
export function FittingsPanel({ node }: { node: InstallationNode }) {
  const { zone } = usePeriod();
  const { data: fittings = [] } = useFittings(node.id);
  if (fittings.length === 0) return null;
  const line = ({ id, at, says, who }: (typeof fittings)[number]) => (
    <li key={id}>
      <span className="measured muted">{siteClock(zone, at, 'd LLL yyyy HH:mm')}</span> {says}
      <span className="muted">, {who}</span>
    </li>
  );
  return (
    <section aria-label="What was fitted when">
      <h2>What was fitted when</h2>
      <ul className={styles.fittings}>{fittings.slice(0, SHOWN).map(line)}</ul>
      {fittings.length > SHOWN && (
        <details>
          <summary>{fittings.length - SHOWN} earlier</summary>
          <ul className={styles.fittings}>{fittings.slice(SHOWN).map(line)}</ul>
        </details>
      )}
    </section>
  );
}
