import type { NodeEnergy } from '@loka/contract/energy';
import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { quantityInfo } from '@loka/core/quantities';
import { siteDay } from '@loka/core/time';
import { useEnergy } from '../api/useApi.js';
import { useNow } from '../api/clock.js';
import { EnergyNotes } from '../shared/EnergyFigure.js';
import { Measured } from '../shared/Measured.js';
import { usePeriod } from '../shared/period.js';
import { DoubtsPanel } from './DoubtsPanel.js';
import styles from './EnergyPanel.module.css';

/** Energy today, yesterday and in the chosen period, by the site's days: what came in, what went out, where it comes from. */
export function EnergyPanel({ node, points }: { node: InstallationNode; points: Point[] }) {
  const { zone, span, words, name } = usePeriod();
  const now = useNow(60_000);
  const today = siteDay(zone, now);
  const yesterday = siteDay(zone, now, 1);
  const rows = [
    { label: 'Today', of: useOwn(node, today.start, today.end) },
    { label: 'Yesterday', of: useOwn(node, yesterday.start, yesterday.end) },
    { label: words, of: useOwn(node, span.start, span.end) },
  ].filter((_, i) => i < 2 || (name !== 'today' && name !== 'yesterday'));
  const both = rows.some(({ of }) => (of?.export ?? 0) > 0);
  const counters = points.filter(
    (p) => p.nodeId === node.id && quantityInfo(p.definition.quantity).kind === 'counter',
  );
  return (
    <section className={styles.energy} aria-label="Energy">
      <h2>Energy</h2>
      <table>
        {both && (
          <thead>
            <tr>
              <td />
              <th scope="col">in</th>
              <th scope="col">out</th>
              <th scope="col">net</th>
            </tr>
          </thead>
        )}
        <tbody>
          {rows.map(({ label, of }) => (
            <tr key={label}>
              <th scope="row">
                {label}
                {of && <EnergyNotes {...of} uncertain={of.uncertainSince !== null} />}
              </th>
              {both && (
                <>
                  <td>
                    <Measured value={of?.import} unit="Wh" />
                  </td>
                  <td>
                    <Measured value={of?.export} unit="Wh" />
                  </td>
                </>
              )}
              <td>
                <Measured value={of?.net} unit="Wh" />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Source
        energy={rows[1]?.of?.source ? rows[1].of : rows[0]?.of}
        of={rows[1]?.of?.source ? 'yesterday' : 'today'}
      />
      <DoubtsPanel
        points={points.filter((p) => p.nodeId === node.id)}
        counters={counters}
        span={span}
        zone={zone}
      />
    </section>
  );
}

function useOwn(node: InstallationNode, from: number, to: number): NodeEnergy | undefined {
  return useEnergy(from, to).data?.find((e) => e.nodeId === node.id);
}

/** Where the energy comes from, and how far the other source is from it. */
function Source({ energy, of }: { energy: NodeEnergy | undefined; of: string }) {
  if (!energy?.source) return null;
  const { other, net, coverage } = energy;
  const comparable =
    other?.net != null && net !== null && Math.abs(net) > 10 && other.coverage > 0.9 && coverage > 0.9;
  const apart = comparable ? ((other.net as number) / net - 1) * 100 : null;
  return (
    <p className="muted">
      {energy.source === 'counter' ? 'Counted by its meter' : 'From its power over time'}
      {apart !== null && other && (
        <>
          ; for {of} {other.source === 'power' ? 'its power' : 'its counter'} says{' '}
          <span className={Math.abs(apart) > 2 ? 'warn' : ''}>
            {Math.abs(apart) < 0.05
              ? 'the same'
              : `${Math.abs(apart).toFixed(1)} % ${apart > 0 ? 'more' : 'less'}`}
          </span>
        </>
      )}
      .
    </p>
  );
}
