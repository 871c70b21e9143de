import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { stepOf } from '@loka/core/definitions';
import { expectedError, reachOf, type Sensing } from '@loka/core/sensing';
import { useLargest } from '../api/live.js';
import { Measured } from '../shared/Measured.js';
import styles from './PlacePage.module.css';

/** What follows from a transducer on this circuit: how far it reaches, at both ends, and how exact it is at the load now. */
export function SensingFigures({
  node,
  points,
  sensing,
}: {
  node: InstallationNode;
  points: Point[];
  sensing: Sensing;
}) {
  const current = points.find((p) => p.nodeId === node.id && p.definition.quantity === 'current');
  const now = useLargest(node.currentPointIds);
  const step = current ? (stepOf(current.definition) ?? 0) : 0;
  const reach = reachOf(sensing, step * (sensing.ratio / sensing.turns / (sensing.burden ?? 1)));
  if (!reach) return null;
  const error = now === null ? null : expectedError(sensing, now, node.powerFactor ?? 1);
  const short = node.ratedCurrent !== null && sensing.kind !== 'direct' && reach.upTo < node.ratedCurrent;
  const weak = node.ratedCurrent !== null && sensing.kind === 'direct' && reach.rated < node.ratedCurrent;
  return (
    <ul className={styles.figures} aria-label="What this means">
      <li>
        Reads up to <Measured value={reach.upTo} unit="A" />
        {reach.smallest > 0 && (
          <>
            , from <Measured value={reach.smallest} unit="A" /> on
          </>
        )}
        .
      </li>
      {sensing.accuracyClass !== null && now !== null && (
        <li>
          {error ? (
            <>
              At the present <Measured value={now} unit="A" />: ±{error.ratio.toFixed(1)} % of the current
              {error.power !== null && `, ±${error.power.toFixed(1)} % of the power`}.
            </>
          ) : (
            <>
              Class {sensing.accuracyClass} promises nothing at the present <Measured value={now} unit="A" />.
            </>
          )}
        </li>
      )}
      {short && (
        <li className="danger">
          The protective device lets {node.ratedCurrent} A through: above {Number(reach.upTo.toPrecision(3))}{' '}
          A it reads too little.
        </li>
      )}
      {weak && (
        <li className="danger">
          The protective device lets {node.ratedCurrent} A through, more than it is made for.
        </li>
      )}
    </ul>
  );
}
