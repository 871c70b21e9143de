import type { InstallationNode } from '@loka/contract/installation';
import { useEnergyOf, useSite } from '../api/useApi.js';
import { useNow } from '../api/clock.js';
import { Said } from '../profile/Said.js';
import { useCopySentences } from '../profile/useCopySentences.js';
import { usePeriod } from '../shared/period.js';
import { betweenInWords } from './between.js';
import styles from './TrendPanel.module.css';

/** What flowed in a stretch that was dragged out in the trend, with how it was computed. */
export function Between({ node }: { node: InstallationNode }) {
  const { span, unit, name } = usePeriod();
  const site = useSite().data?.site ?? null;
  const now = useNow(60_000);
  const { data, isLoading } = useEnergyOf(node.id, span.start, span.end);
  const copy = useCopySentences();
  // Days, weeks and what moves on with the clock are told on the energy's own part.
  if (unit !== null || !/\.\.|hour/.test(name) || !site) return null;
  // What was asked before is of another stretch.
  const energy = isLoading ? undefined : data?.find((e) => e.nodeId === node.id);
  const said = energy && betweenInWords(energy, span, now, site);
  if (!said) return null;
  return (
    <div className={styles.between} aria-label="Between two instants" role="group">
      <div>
        <Said parts={said.says} />
        <small>{said.known}</small>
      </div>
      <button type="button" aria-label="Copy what flowed" onClick={() => copy([said])}>
        copy
      </button>
    </div>
  );
}
