import type { Switch } from '@loka/contract/control';
import type { NodeEnergy } from '@loka/contract/energy';
import type { InstallationNode } from '@loka/contract/installation';
import { printInUnit } from '@loka/core/formats';
import { memo } from 'react';
import { Link } from 'react-router';
import { useBetween, useLargest, useSum } from '../api/live.js';
import { SwitchSymbol } from '../control/SwitchSymbol.js';
import { useKept } from '../frame/WorkAreas.js';
import { ConductorMarks } from '../shared/ConductorMarks.js';
import { EnergyCell } from '../shared/EnergyFigure.js';
import { Measured } from '../shared/Measured.js';
import { useEstimatedPower } from '../shared/useEstimatedPower.js';
import { protectionOf, isReversed, useSelection } from '../shared/nodes.js';
import { JobMarks } from '../installation/JobMarks.js';
import { Sparkline } from './Sparkline.js';
import styles from './ScheduleRow.module.css';

/** One way of the schedule. What is live in it draws itself again, and not the row. */
export const ScheduleRow = memo(function ScheduleRow({
  nodes,
  way,
  energy,
  sparkline,
  switching,
  onEdit,
}: {
  nodes: InstallationNode[];
  way: InstallationNode;
  energy: NodeEnergy | undefined;
  sparkline: (number | null)[] | undefined;
  switching: Switch | undefined;
  onEdit: (way: InstallationNode) => void;
}) {
  const [, select] = useSelection();
  const kept = useKept();
  const metered = way.powerPointIds.length > 0;
  return (
    <tr>
      <td className="measured">
        <button
          type="button"
          className={styles.way}
          onClick={() => onEdit(way)}
          aria-label={`Change way ${way.way}`}
          title="Change this way"
        >
          {way.way}
        </button>
      </td>
      <td>
        <ConductorMarks phases={way.phases} />
      </td>
      <td className="measured">{protectionOf(way).replace(/ A$/, '') || '–'}</td>
      <td>
        <button type="button" className={styles.name} onClick={() => select(way.id)}>
          {way.name}
        </button>
      </td>
      <td className="number">
        {metered ? (
          <PowerNow nodes={nodes} way={way} />
        ) : way.currentPointIds.length > 0 ? (
          <AboutNow nodes={nodes} way={way} />
        ) : (
          <span className="muted">not metered</span>
        )}
      </td>
      <td>
        <LoadNow way={way} />
      </td>
      <td className="number">
        <EnergyCell energy={energy} />
      </td>
      <td>
        <Sparkline values={sparkline} label={`${way.name}, the last 24 hours`} />
      </td>
      <td>
        <JobMarks node={way} />
      </td>
      <td>
        {switching ? (
          <Link to={`/control${kept}`} aria-label={`Switch of ${way.name}`}>
            <SwitchSymbol closed={switching.readBack} agreement={switching.agreement} />
          </Link>
        ) : (
          <span className="muted">–</span>
        )}
      </td>
    </tr>
  );
});

const STANDS_IN = 'Its voltage is not read now: the nominal voltage stands in for it.';

function PowerNow({ nodes, way }: { nodes: InstallationNode[]; way: InstallationNode }) {
  const power = useSum(way.powerPointIds);
  const between = useBetween(way.powerPointIds);
  if (power === null) return <span className="danger">no data</span>;
  if (between) return <Approximately watts={power} between={between} says={STANDS_IN} />;
  return <Measured value={power} unit="W" className={isReversed(nodes, way.id, power) ? 'danger' : ''} />;
}

/** Of a way with clamps alone: by the nearest voltage, with its spread. */
function AboutNow({ nodes, way }: { nodes: InstallationNode[]; way: InstallationNode }) {
  const now = useEstimatedPower(way, nodes);
  if (!now?.estimate) return <span className="danger">no data</span>;
  const { watts, low, high, assumed } = now.estimate;
  return (
    <Approximately
      watts={watts}
      between={[low, high]}
      says={`Only its current is measured; assumed: ${assumed.join(' and ')}.`}
    />
  );
}

/** What is partly assumed, with what it lies between. */
function Approximately({
  watts,
  between: [low, high],
  says,
}: {
  watts: number;
  between: readonly [low: number, high: number];
  says: string;
}) {
  return (
    <span className="warn" title={`Between ${printInUnit(low, 'W')} and ${printInUnit(high, 'W')}. ${says}`}>
      ≈ <Measured value={watts} unit="W" />
    </span>
  );
}

/** Of a way with a clamp alone as well. */
function LoadNow({ way }: { way: InstallationNode }) {
  const power = useSum(way.powerPointIds);
  const amperes = useLargest(way.currentPointIds);
  const metered = way.powerPointIds.length > 0;
  return (
    <RatingBar
      amperes={amperes}
      rated={way.ratedCurrent}
      missing={(metered && power === null) || (way.currentPointIds.length > 0 && amperes === null)}
    />
  );
}

/** Load over rated current: a line with a tick at the rating; hatched where it is missing. */
function RatingBar({
  amperes,
  rated,
  missing,
}: {
  amperes: number | null;
  rated: number | null;
  missing: boolean;
}) {
  const share = amperes === null || !rated ? 0 : amperes / rated;
  const percent = Math.round(share * 100);
  return (
    <span
      className={styles.bar}
      data-missing={missing}
      role="img"
      aria-label={
        missing ? 'no data' : rated && amperes !== null ? `${percent} % of ${rated} A` : 'not known'
      }
      title={rated && amperes !== null ? `${amperes.toFixed(1)} A of ${rated} A` : undefined}
    >
      <span
        style={{ width: `${Math.min(1.04, Math.max(0, share)) * 96}%` }}
        data-level={share > 1 ? 'danger' : share > 0.8 ? 'warn' : 'ok'}
      />
    </span>
  );
}
