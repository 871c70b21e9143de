import type { InstallationNode } from '@loka/contract/installation';
import { printPercent } from '@loka/core/formats';
import { siteDay } from '@loka/core/time';
import { useEnergy } from '../api/useApi.js';
import { useNow } from '../shared/clock.js';
import { Measured } from '../shared/Measured.js';
import { usePeriod } from '../shared/period.js';
import styles from './NowPanel.module.css';

/** Energy today, yesterday and in the chosen period, by the site's days. */
export function EnergyPanel({ node }: { node: InstallationNode }) {
  const { zone, span, words, name } = usePeriod();
  const now = useNow(60_000);
  const today = siteDay(zone, now);
  const yesterday = siteDay(zone, now, 1);
  return (
    <section className={styles.now}>
      <dl>
        <EnergyRow label="Energy today" node={node} from={today.start} to={today.end} />
        <EnergyRow label="Energy yesterday" node={node} from={yesterday.start} to={yesterday.end} />
        {name !== 'today' && name !== 'yesterday' && (
          <EnergyRow label={`Energy, ${words.toLowerCase()}`} node={node} from={span.start} to={span.end} />
        )}
      </dl>
    </section>
  );
}

function EnergyRow({
  label,
  node,
  from,
  to,
}: {
  label: string;
  node: InstallationNode;
  from: number;
  to: number;
}) {
  const { data } = useEnergy(from, to);
  const own = data?.find((e) => e.nodeId === node.id);
  return (
    <div>
      <dt>
        {label}
        {own?.energy != null && own.coverage < 0.97 && (
          <span className={styles.from}> readings for {printPercent(own.coverage)}</span>
        )}
      </dt>
      <dd>
        <Measured value={own?.energy} unit="Wh" />
      </dd>
    </div>
  );
}
