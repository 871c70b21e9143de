import type { PeriodBalance } from '@loka/contract/balance';
import type { InstallationNode } from '@loka/contract/installation';
import type { Site } from '@loka/contract/site';
import { Link } from 'react-router';
import { money } from '../shared/money.js';
import { light, useIsLit } from '../shared/lit.js';
import { PurposeMark } from '../shared/PurposeMark.js';
import { useSelection } from '../shared/nodes.js';
import { ScrollBox } from '../shared/ScrollBox.js';
import { change, figure, share } from './figures.js';
import { isConsumption, totalOf } from './groups.js';
import styles from './Ranking.module.css';
import type { ComparedUses } from './UsesOverTime.js';

interface Ranked {
  key: string;
  node: InstallationNode | undefined;
  unmetered: boolean;
  wh: number;
  before: number | null;
}

/** Uses from most to least, with share, cost and change against the compared period. */
export function Ranking({
  uses,
  compared,
  nodes,
  site,
}: {
  uses: PeriodBalance['uses'];
  compared: ComparedUses | null;
  nodes: readonly InstallationNode[];
  site: Site | null;
}) {
  const rows = uses
    .filter((u) => isConsumption(u, nodes))
    .map((u): Ranked => {
      const then = compared?.uses.find((c) => c.key === u.key);
      return {
        key: u.key,
        node: nodes.find((n) => n.id === u.nodeId),
        unmetered: u.kind === 'unmetered',
        wh: totalOf([u]),
        before: then && then.values.some((v) => v !== null) ? totalOf([then]) : null,
      };
    })
    .filter((r) => Math.abs(r.wh) >= 0.5 || (r.before ?? 0) >= 0.5)
    .sort((a, b) => b.wh - a.wh);
  const total = rows.reduce((sum, r) => sum + r.wh, 0);
  const price = site?.price ?? null;
  return (
    <section aria-label="Most to least" className={styles.ranking}>
      <div className={styles.head}>
        <h2>Most to least</h2>
        <span className="muted">
          {price === null ? (
            <Link to="/settings">Set a price</Link>
          ) : (
            <>
              at {money(price, site, 3)} a kWh{' '}
              <span className="measured">{money((total / 1000) * price, site)}</span>
            </>
          )}
        </span>
      </div>
      <ScrollBox>
        <table className="plain">
          <thead>
            <tr>
              <th>Use</th>
              <th className="number">kWh</th>
              <th>Share</th>
              {price !== null && <th className="number">Cost</th>}
              {compared && <th className="number">vs {compared.words}</th>}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <RankedRow
                key={row.key}
                row={row}
                total={total}
                cost={price === null ? null : money((row.wh / 1000) * price, site)}
                compared={compared !== null}
              />
            ))}
          </tbody>
        </table>
      </ScrollBox>
    </section>
  );
}

function RankedRow({
  row: { node, unmetered, wh, before },
  total,
  cost,
  compared,
}: {
  row: Ranked;
  total: number;
  cost: string | null;
  compared: boolean;
}) {
  const lit = useIsLit(node?.id ?? -1);
  const [, select] = useSelection();
  return (
    <tr
      data-lit={lit}
      className={styles.row}
      onPointerEnter={() => light(node?.id ?? null)}
      onPointerLeave={() => light(null)}
    >
      <td>
        <button type="button" onClick={() => node && select(node.id)} className={styles.name}>
          {unmetered ? (
            <em>Not metered{node && node.kind !== 'supply' ? `, ${node.name}` : ''}</em>
          ) : (
            <>
              <PurposeMark purpose={node?.purposeShown ?? null} size={13} /> {node?.name}
            </>
          )}
        </button>
      </td>
      <td className="number measured">{figure(wh, { unit: 'Wh', kilo: true })}</td>
      <td>
        <span className={styles.share}>
          <span className={styles.bar} aria-hidden>
            <span
              data-hatched={unmetered}
              style={{ width: `${Math.max(0, Math.min(100, (100 * wh) / Math.max(1, total)))}%` }}
            />
          </span>
          <span>{share(wh, total)}</span>
        </span>
      </td>
      {cost !== null && <td className="number measured">{cost}</td>}
      {compared && <td className="number measured">{change(wh, before)}</td>}
    </tr>
  );
}
