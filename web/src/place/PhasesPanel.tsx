import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { LINES, type Line } from '@loka/core/installation';
import { isReadable } from '@loka/core/points';
import { lagOf, neutralCurrent, unbalance } from '@loka/core/power';
import type { Quantity } from '@loka/core/quantities';
import { useReadings } from '../api/live.js';
import { useSite } from '../api/useApi.js';
import { ConductorMarks } from '../shared/ConductorMarks.js';
import { Measured } from '../shared/Measured.js';
import styles from './PhasesPanel.module.css';

/** Line by line: voltage, current, power; what the neutral carries, and how unequal the lines are. */
export function PhasesPanel({
  node,
  points,
  lineByLine,
}: {
  node: InstallationNode;
  points: Point[];
  /** Whether the lines stand here, and nowhere else on the page. */
  lineByLine: boolean;
}) {
  const site = useSite().data?.site ?? null;
  const own = points.filter((p) => p.nodeId === node.id && isReadable(p.definition));
  const of = (quantity: Quantity, phase: string) =>
    own.find((p) => p.definition.quantity === quantity && p.phase === phase);
  const lines = LINES.filter((line) => of('current', line) ?? of('active-power', line));
  const ids = (quantity: Quantity) => lines.map((line) => of(quantity, line)?.id ?? -1);
  const volts = useReadings(ids('voltage'));
  const amperes = useReadings(ids('current'));
  const watts = useReadings(ids('active-power'));
  const factors = useReadings(ids('power-factor'));
  const neutral = of('current', 'N');
  const [measured] = useReadings([neutral?.id ?? -1]);
  if (lines.length < 2 || !site) return null;
  const known = lines.flatMap((line, i) => {
    const a = amperes[i]?.v ?? null;
    return a === null ? [] : [{ line, a: Math.abs(a), lag: lagOf(factorOf(i)) }];
  });
  function factorOf(i: number): number | null {
    const told = factors[i]?.v ?? null;
    const [v, a, w] = [volts[i]?.v ?? null, amperes[i]?.v ?? null, watts[i]?.v ?? null];
    if (told !== null) return told;
    return v !== null && a !== null && w !== null && v * a > 1 ? Math.min(1, Math.abs(w) / (v * a)) : null;
  }
  const all = known.length === lines.length;
  const computed = all
    ? neutralCurrent(
        known.map(({ line, a, lag }) => ({ line: line as Line, amperes: a, lag })),
        site.supplySystem,
      )
    : null;
  const apart = all && Math.max(...known.map((k) => k.a)) > 0.5 ? unbalance(known.map((k) => k.a)) : null;
  return (
    <section aria-label="Phases">
      <h2>{lineByLine ? 'Phases' : 'Neutral'}</h2>
      <table className={styles.phases}>
        <tbody>
          {(lineByLine ? lines : []).map((line, i) => (
            <tr key={line}>
              <th scope="row">
                <ConductorMarks phases={line} />
              </th>
              <td>
                <Measured value={volts[i]?.v ?? null} unit="V" />
              </td>
              <td>
                <Measured value={amperes[i]?.v ?? null} unit="A" />
              </td>
              <td>
                <Measured value={watts[i]?.v ?? null} unit="W" />
              </td>
            </tr>
          ))}
          <tr>
            <th scope="row">
              <ConductorMarks phases="N" />
            </th>
            <td />
            <td>
              <Measured value={neutral ? (measured?.v ?? null) : computed} unit="A" />
            </td>
            <td className="muted">{neutral ? 'measured' : 'computed'}</td>
          </tr>
        </tbody>
      </table>
      <p className="muted">
        {apart !== null && (
          <>
            Currents differ by <span className={apart > 0.5 ? 'warn' : ''}>{Math.round(100 * apart)} %</span>{' '}
            of their mean.{' '}
          </>
        )}
        {!neutral && 'The neutral is the sum of the line currents, without harmonics.'}
      </p>
    </section>
  );
}
